import { inClaimsWords, printedWords } from "@/core/chain/claim";
import type { Verdict } from "@/core/judge/verdict";
import { formatPercent, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";

/** What each enclosure's printed claim is worth, with the reasons. */
export function Verdicts({
  verdicts,
  tolerance,
  unit,
}: {
  verdicts: Verdict[];
  tolerance: number;
  unit: RateUnit;
}) {
  if (verdicts.length === 0) {
    return (
      <p className="text-secondary">
        No enclosure of this study has a claim in this direction. Enter what its box says on the
        shelf.
      </p>
    );
  }
  return (
    <ul className="space-y-2">
      {verdicts.map((verdict) => {
        const { part, claim, kind, shortBy, reasons, settle } = verdict;
        return (
          <li
            key={`${part.id}${claim.direction}${claim.kind}${claim.over}${claim.block}${claim.depth}`}
          >
            <p className="font-semibold">
              {part.name}: {kind}
              {shortBy !== null && ` by ${formatPercent(shortBy)}`}
              <span className="font-normal text-secondary">
                {" "}
                · claims{" "}
                <span className="figure">
                  {inClaimsWords(claim, claim.mbps, ratesIn(unit))}
                </span>{" "}
                {claim.direction === "read" ? "reading" : "writing"}
                {printedWords(claim)}, {claim.kind} · tolerance {formatPercent(tolerance)}
              </span>
            </p>
            {reasons.map((reason) => (
              <p key={reason}>{reason}</p>
            ))}
            {settle.map(({ text }) => (
              <p key={text} className="text-secondary">
                Would settle it: {text}
              </p>
            ))}
          </li>
        );
      })}
    </ul>
  );
}
