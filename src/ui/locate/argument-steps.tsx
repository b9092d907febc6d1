import { Link } from "../controls/link";
import { capital } from "@/core/chain/wording";
import type { Suspected } from "@/core/locate/findings/argument";
import { degreeOf } from "@/core/locate/findings/certainty";
import { formatChance, ratesIn } from "@/core/units/number";
import type { RateUnit } from "@/core/units/rate";

/** What a list of the argument's steps needs of each. */
interface Step {
  letter: string;
  name: string;
  observedMBps: number;
  measurementId: string | null;
  differs: string[];
  before: Suspected | null;
  after: Suspected;
  ruledOut: string[];
  settled: boolean;
}

/** The argument about a rig, step by step; each leads to how everything stood then. */
export function ArgumentSteps({
  steps,
  at,
  hrefOf,
  unit,
}: {
  steps: readonly Step[];
  /** Which of them the page shows. */
  at: number;
  hrefOf: (step: number) => string;
  unit: RateUnit;
}) {
  const { said } = ratesIn(unit);
  return (
    <ol className="space-y-1.5">
      {steps.map((step, i) => (
        <li
          key={`${step.letter}${i}`}
          className={`grid grid-cols-[22px_minmax(0,1fr)] gap-x-2 ${i === at ? "border-l-[3px] border-ink bg-bank py-1 pl-2" : "pl-[11px]"}`}
        >
          <span className="figure text-right text-secondary">{i + 1}</span>
          <div>
            <Link
              href={hrefOf(i)}
              scroll={false}
              aria-current={i === at ? "step" : undefined}
              className="underline decoration-line underline-offset-2 hover:decoration-ink"
            >
              <span className="font-serif italic">{step.letter}</span> {step.name}
            </Link>{" "}
            gave <span className="figure">{said(step.observedMBps)}</span>
            {step.differs.length > 0 && (
              <span className="text-[14px] text-secondary"> ({step.differs.join("; ")})</span>
            )}
            <span className="block text-[14px]">{stepWords(step)}</span>
          </div>
        </li>
      ))}
    </ol>
  );
}

/** A probability that moves by less has not changed. */
const SAME = 0.01;

/** Whether a step changed anything that is worth a word. */
export const hasChanged = ({
  before,
  after,
  ruledOut,
}: Pick<Step, "before" | "after" | "ruledOut">): boolean =>
  ruledOut.length > 0 ||
  before?.name !== after.name ||
  Math.abs(before.probability - after.probability) >= SAME;

/** What a step changed: "K2 from 27 % to 72 %, likely; ruled out: port". */
export function stepWords({ before, after, ruledOut }: Step): string {
  const chance = (of: Suspected) => formatChance(of.probability);
  const degree = degreeOf(after.probability);
  const now = `${after.name}, ${degree} (${chance(after)})`;
  if (!before) return `Likeliest: ${now}`;
  const isSame = before.name === after.name;
  if (isSame && !hasChanged({ before, after, ruledOut })) return `No change: ${now}`;
  const out = ruledOut.length > 0 ? `; ruled out: ${ruledOut.slice(0, 6).join(", ")}` : "";
  return isSame
    ? `${capital(after.name)} from ${chance(before)} to ${chance(after)}, ${degree}${out}`
    : `Likeliest was ${before.name} (${chance(before)}), is ${now}${out}`;
}
