import { keptName, type HeldAgainst } from "@/core/simulate/held-against";
import { SMALLEST_EFFECT } from "@/core/stats/compare";
import { formatDuration, formatPercent, formatSeconds, type RateWords } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { useRates } from "../frame/unit";

/** In sentences: whether the measured run and the simulated one agree, and where they do not. */
export function Findings({ held, rig }: { held: HeldAgainst; rig: string }) {
  const rates = useRates();
  const { rate, said } = rates;
  const { measured, simulated, stretches, steps, events } = held;
  const isWork = simulated.waitedMs !== null;
  const lines = isWork
    ? worksTold(held, rig)
    : measured
      ? [
          ...(measured.samples.length === 0 ? [meansOf(held, rates)] : []),
          ...differences(held, rates),
        ]
      : [
          `Simulated, ${rig} gives ${said(simulated.meanMBps)}. No run of this drill was measured to hold against it.`,
        ];
  const alike =
    measured && !isWork && measured.samples.length > 0 && stretches.length + steps.length === 0;
  return (
    <div className="font-serif text-[19px] leading-snug">
      {alike && (
        <p>
          What was {keptName(measured.origin)} and what is simulated now are the same within the
          noise: {rate(measured.meanMBps)} and {said(simulated.meanMBps)}.
        </p>
      )}
      {lines.map((line) => (
        <p key={line}>{line}</p>
      ))}
      {simulated.faults > 0 && (
        <p>
          Read back, the simulated drive does not hold what was written to it: it is smaller than it
          says.
        </p>
      )}
      {events.length > 0 && (
        <p className="mt-1 font-sans text-sm">
          {events
            .slice(0, 3)
            .map(({ ms, text }) => `At ${formatSeconds(ms / 1e3)}: ${text}`)
            .join(" ")}
        </p>
      )}
    </div>
  );
}

/** Work that is done again, by its time: what no faster drive saves is said with it. */
function worksTold({ measured, simulated }: HeldAgainst, rig: string): string[] {
  const long = (ms: number) => formatDuration(ms);
  const takes = `Simulated, the work takes ${long(simulated.ms)} through ${rig}, and waits ${long(simulated.waitedMs ?? 0)} of that for the drive.`;
  if (!measured) return [takes];
  const off = Math.abs(simulated.ms / measured.ms - 1);
  return off <= SMALLEST_EFFECT
    ? [takes, `It took as long when it was ${keptName(measured.origin)}: ${long(measured.ms)}.`]
    : [
        takes,
        `When it was ${keptName(measured.origin)}, it took ${long(measured.ms)}: ${formatPercent(Math.abs(measured.ms / simulated.ms - 1))} ${measured.ms < simulated.ms ? "less" : "more"}.`,
      ];
}

const meansOf = ({ measured, simulated }: HeldAgainst, { said }: RateWords): string => {
  const [a, b] = [measured!.meanMBps, simulated.meanMBps];
  const alike = Math.abs(a - b) <= SMALLEST_EFFECT * Math.max(a, b);
  const origin = keptName(measured!.origin);
  return alike
    ? `The ${origin} figure, ${said(a)}, is what the simulated bench gives (${said(b)}).`
    : `The ${origin} figure, ${said(a)}, is ${formatPercent(Math.abs(a / b - 1))} ${a < b ? "below" : "above"} the ${said(b)} that the simulated bench gives.`;
};

function differences({ stretches, steps, measured }: HeldAgainst, { said }: RateWords): string[] {
  const over = stretches.map(({ fromMs, toMs, measuredMBps: a, simulatedMBps: b }) => {
    const until = toMs >= measured!.ms - 1000 ? "on" : `to ${formatSeconds(toMs / 1e3)}`;
    return `From ${formatSeconds(fromMs / 1e3)} ${until} it was ${keptName(measured!.origin)} at ${said(a)}, ${formatPercent(Math.abs(a / b - 1))} ${a < b ? "less" : "more"} than the ${said(b)} simulated.`;
  });
  const by = steps.slice(0, 6).map(({ label, measuredMBps: a, simulatedMBps: b }) => {
    const where = label.block
      ? `With blocks of ${formatSize(label.block)}`
      : label.depth
        ? `With ${label.depth} in flight`
        : label.restSeconds !== undefined
          ? label.restSeconds === 0
            ? "At first"
            : `After ${formatSeconds(label.restSeconds)} of rest`
          : label.position !== undefined
            ? `At ${formatSize(label.position)}`
            : (label.name ?? "In one step");
    return `${where} it was ${keptName(measured!.origin)} at ${said(a)}, ${formatPercent(Math.abs(a / b - 1))} ${a < b ? "less" : "more"} than the ${said(b)} simulated.`;
  });
  return [...over.slice(0, 5), ...by];
}
