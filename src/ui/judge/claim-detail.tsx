import { Link } from "../controls/link";
import { claimWords } from "@/core/chain/claim";
import type { Turn } from "@/core/judge/history";
import type { Judged } from "@/core/judge/judged";
import { formatMoment } from "@/core/units/day";
import { formatPercent, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";
import { MakeStep } from "../plan/make-step";
import { VerdictSign } from "./verdict-sign";

/** One claim in full: the verdict, what it rests on, the challenge, and what would settle it. */
export function ClaimDetail({
  judged,
  turns,
  marks,
  studyId,
  simulated,
  unit,
}: {
  judged: Judged;
  /** Which runs changed the verdict, the latest first. */
  turns: readonly Turn[];
  /** What about it is not as usual: another tolerance, runs left out. */
  marks: readonly string[];
  studyId: string;
  simulated: boolean;
  unit: RateUnit;
}) {
  const { part, claim, kind, shortBy, reasons, impossible, settle, challenge, rig } = judged;
  const rates = ratesIn(unit);
  const runs = (id: string | undefined) => `/studies/${studyId}/measure?m=${id ?? ""}`;
  return (
    <section aria-label="The verdict" className="border-l-[3px] border-ink bg-bank px-4 py-3">
      <p className="text-[13px] text-secondary">
        {part.name} claims {claimWords(claim, rates)}
      </p>
      <h2 className="font-serif text-[23px] leading-tight">
        <VerdictSign kind={kind} />
        {shortBy !== null && ` by ${formatPercent(shortBy)}`}
      </h2>
      {marks.length > 0 && <p className="text-[13px] font-semibold">{marks.join(" · ")}</p>}
      {impossible.map((text) => (
        <p key={text} className="mt-1 font-semibold">
          {text}
        </p>
      ))}
      {reasons.map((reason) => (
        <p key={reason} className="mt-1">
          {reason}
        </p>
      ))}
      {settle.length > 0 && (
        <div className="mt-3">
          <h3 className="font-semibold">What would settle it</h3>
          <ul className="space-y-1.5">
            {settle.map(({ text, ask }) => (
              <li key={text}>
                <p>{text}</p>
                {ask && (
                  <div className="mt-1">
                    <MakeStep studyId={studyId} ask={ask} simulated={simulated} then={null} />
                  </div>
                )}
              </li>
            ))}
          </ul>
        </div>
      )}
      {challenge.length > 0 && (
        <div className="mt-3">
          <h3 className="font-semibold">
            Challenge: could the other parts of {rig?.name || "the rig"} carry clearly more?
          </h3>
          <ul className="text-[15px]">
            {challenge.map(({ name, shown, most }) => (
              <li key={name} className="flex flex-wrap items-baseline gap-x-2">
                <span className="figure w-[1ch]" aria-hidden>
                  {shown ? "✓" : "·"}
                </span>
                <span className="[overflow-wrap:anywhere]">{name}</span>
                {shown ? (
                  <Link className="ml-auto underline" href={runs(shown.measurementIds[0])}>
                    <span className="figure">{rates.said(shown.mbps)}</span> in {shown.rig.name}
                  </Link>
                ) : (
                  <span className="ml-auto text-secondary">
                    {most === null ? (
                      "no run"
                    ) : (
                      <>
                        <span className="figure">{rates.said(most)}</span> at most
                      </>
                    )}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </div>
      )}
      {turns.length > 0 && (
        <div className="mt-3">
          <h3 className="font-semibold">Which run changed it</h3>
          <ul className="text-[15px]">
            {turns.slice(0, 6).map((turn) => (
              <li key={turn.measurementId}>
                <Link className="underline" href={runs(turn.measurementId)}>
                  {turn.rigName}, {formatMoment(turn.at)}
                </Link>
                : {turn.from ? `${turn.from} → ` : ""}
                {turn.to}
                {turn.shortBy !== null && ` by ${formatPercent(turn.shortBy)}`}
              </li>
            ))}
          </ul>
        </div>
      )}
    </section>
  );
}
