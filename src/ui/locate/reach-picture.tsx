"use client";

import { Link } from "../controls/link";
import type { ShownReach } from "@/core/locate/findings/shown";
import { STATE_SIGNS } from "@/core/locate/findings/carried";
import { inUnit } from "@/core/units/rate";
import { useWidth } from "../controls/use-width";
import { useRates } from "../frame/unit";
import { Saveable } from "../out/saveable";

const ROW = 22;

/**
 * What each part has been shown to carry, on one axis of rates, with the slow rig's rate as a line
 * through all: what reaches past it is cleared.
 */
export function ReachPicture({
  reaches,
  slow,
  title,
  simulated,
  studyId,
}: {
  reaches: readonly ShownReach[];
  /** MB/s of the slow rig. */
  slow: number;
  title: string;
  simulated: boolean;
  studyId: string;
}) {
  const { unit, rate, said } = useRates();
  const [ref, width] = useWidth<HTMLDivElement>(560);
  const rates = reaches.flatMap(({ shownMBps, ceiling }) => [
    ...(shownMBps === null ? [] : [shownMBps]),
    ...(ceiling === null ? [] : [ceiling]),
  ]);
  const [from, to] = [Math.min(slow, ...rates) * 0.6, Math.max(slow, ...rates) * 1.15];
  const x = (mbps: number) => (Math.log(mbps / from) / Math.log(to / from)) * width;
  const height = reaches.length * ROW;
  return (
    <Saveable
      caption={{
        title,
        note: `Bar: the most that a run has shown to pass, ${unit}. Thin mark: ceiling by the ledger. Line: what the slow rig gives, ${said(slow)}. Full bars are cleared, hatched ones suspect.${simulated ? " Simulated." : ""}`,
      }}
      rows={[
        ["what", "state", `shown, ${unit}`, `ceiling, ${unit}`, "why"],
        ...reaches.map(({ name, state, shownMBps, ceiling, words }) => [
          name,
          state,
          ...[shownMBps, ceiling].map((mbps) =>
            mbps === null ? null : Number(inUnit(mbps, unit).toPrecision(6)),
          ),
          words,
        ]),
      ]}
      foot={
        <p className="text-[13px] text-secondary">
          Bar: the most a run has shown to pass. Thin mark: ceiling by the ledger. Dashed line: this
          rig, {said(slow)}. Full: cleared, hatched: not.
        </p>
      }
    >
      <div className="grid grid-cols-[minmax(80px,200px)_minmax(60px,1fr)_minmax(90px,180px)] gap-x-3 text-[14px]">
        <ul>
          {reaches.map(({ key, name, kind, state }) => (
            <li
              key={key}
              style={{ height: ROW }}
              className={`truncate leading-[22px] ${kind === "part" ? "font-medium" : "text-secondary"} ${state === "suspect" ? "!font-semibold !text-ink" : ""}`}
            >
              <span className="figure mr-1">{STATE_SIGNS[state]}</span>
              {name}
            </li>
          ))}
        </ul>
        <div ref={ref}>
          <svg
            width={width}
            height={height}
            role="img"
            aria-label={`${title}; the table of values can be saved.`}
          >
            <defs>
              <pattern id="reach-open" width="6" height="6" patternUnits="userSpaceOnUse">
                <path
                  d="M-1.5 4.5 L4.5 -1.5 M1.5 7.5 L7.5 1.5"
                  stroke="var(--secondary)"
                  strokeWidth="1.2"
                />
              </pattern>
            </defs>
            {reaches.map(({ key, shownMBps, ceiling, state }, i) => (
              <g key={key}>
                {shownMBps !== null && (
                  <rect
                    x={0}
                    y={i * ROW + 6}
                    width={Math.max(2, x(shownMBps))}
                    height={ROW - 12}
                    fill={state === "cleared" ? "var(--flow)" : "url(#reach-open)"}
                    stroke={state === "cleared" ? "var(--flow)" : "var(--secondary)"}
                  />
                )}
                {ceiling !== null && (
                  <path
                    d={`M${x(ceiling)} ${i * ROW + 3}V${(i + 1) * ROW - 3}`}
                    stroke="var(--ink)"
                    strokeWidth={1.4}
                  />
                )}
              </g>
            ))}
            <path
              d={`M${x(slow)} 0V${height}`}
              stroke="var(--ink)"
              strokeWidth={1.6}
              strokeDasharray="5 4"
            />
          </svg>
        </div>
        <ul>
          {reaches.map(({ key, shownMBps, words, measurementId }) => (
            <li key={key} style={{ height: ROW }} className="truncate leading-[22px]">
              {shownMBps !== null && measurementId !== null && (
                <Link
                  className="figure mr-2 underline"
                  href={`/studies/${studyId}/measure?m=${measurementId}`}
                >
                  {rate(shownMBps)}
                </Link>
              )}
              {/* What a network carried by itself is no run of a study. */}
              {shownMBps !== null && measurementId === null && (
                <span className="figure mr-2">{rate(shownMBps)}</span>
              )}
              <span className="text-[13px] text-secondary" title={words}>
                {words}
              </span>
            </li>
          ))}
        </ul>
      </div>
    </Saveable>
  );
}
