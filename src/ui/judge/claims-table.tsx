import { Link } from "../controls/link";
import { claimWords } from "@/core/chain/claim";
import { PART_KIND_NAMES } from "@/core/chain/part";
import type { Judged } from "@/core/judge/judged";
import { counted } from "@/core/units/counted";
import { formatPercent, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { VerdictSign } from "./verdict-sign";

/** Every claim with its verdict; each leads to what it rests on. */
export function ClaimsTable({
  judged,
  shownKey,
  hrefOf,
  letterOf,
  studyId,
  unit,
}: {
  judged: readonly Judged[];
  shownKey: string | null;
  /** Where a claim is shown in full. */
  hrefOf: (key: string) => string;
  letterOf: (rigId: string) => string;
  studyId: string;
  unit: RateUnit;
}) {
  const rates = ratesIn(unit);
  return (
    <table className="w-full">
      <thead>
        <tr>
          <th className={HEAD}>part</th>
          <th className={HEAD}>claim, as printed</th>
          <th className={HEAD}>verdict</th>
          <th className={HEAD_RIGHT}>by</th>
          <th className={HEAD}>on</th>
        </tr>
      </thead>
      <tbody>
        {judged.map(({ key, part, claim, kind, shortBy, impossible, rig, observed, seen }) => (
          <tr key={key} className={key === shownKey ? "bg-bank" : ""} data-claim={key}>
            <td className={CELL}>
              <span className="font-semibold [overflow-wrap:anywhere]">{part.name}</span>
              <span className="text-[13px] text-secondary"> {PART_KIND_NAMES[part.kind]}</span>
            </td>
            <td className={CELL}>
              {claimWords(claim, rates)}
              {impossible.length > 0 && (
                <span className="block text-[13px] font-semibold">
                  impossible: its own link carries less
                </span>
              )}
            </td>
            <td className={CELL}>
              <Link
                href={hrefOf(key)}
                scroll={false}
                aria-current={key === shownKey ? "true" : undefined}
                className="font-semibold underline decoration-line underline-offset-2 hover:decoration-ink"
              >
                <VerdictSign kind={kind} />
              </Link>
            </td>
            <td className={FIGURE}>{shortBy === null ? "" : formatPercent(shortBy)}</td>
            <td className={`${CELL} text-[14px]`}>
              {rig && observed ? (
                <>
                  <span className="font-serif italic">{letterOf(rig.id)}</span>,{" "}
                  <Link
                    className="underline"
                    href={`/studies/${studyId}/measure?m=${seen?.measurementIds[0] ?? ""}`}
                  >
                    {counted(observed.n, "run")}
                  </Link>
                </>
              ) : (
                <span className="text-secondary">no run</span>
              )}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
