import { workFigures, workWords } from "@/core/drills/work-figures";
import type { StepResult } from "@/core/run/result";
import { formatDuration, formatPercent } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { TimeBar } from "../../controls/time-bar";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../../controls/table";
import type { Caption } from "../../out/framed-svg";
import { LatencyPicture } from "./latency";

const long = (ms: number) => formatDuration(ms);

/** Request times of the recording, each way. */
const recordedTimes = ({ replay }: StepResult) => [
  ...(replay?.recordedRead ? [{ what: "reading, recorded", histogram: replay.recordedRead }] : []),
  ...(replay?.recordedWrite
    ? [{ what: "writing, recorded", histogram: replay.recordedWrite }]
    : []),
];

/** Recorded work and its replay: how long each took and waited, phase by phase, and the request times. */
export function Work({ steps, caption }: { steps: readonly StepResult[]; caption: Caption }) {
  const figures = workFigures(steps);
  if (!figures) return null;
  const { seconds, waitedSeconds, recordedSeconds, recordedWaitedSeconds } = figures;
  const longest = Math.max(seconds, recordedSeconds);
  const phases = steps.flatMap(({ replay, label }) =>
    (replay?.phases ?? []).map((phase) => ({ ...phase, name: label.name ?? "" })),
  );
  const [first] = steps;
  return (
    <div className="mt-2 space-y-3">
      <table className="w-full max-w-3xl">
        <thead>
          <tr>
            <th className={HEAD}>
              <span className="sr-only">which</span>
            </th>
            <th className={`${HEAD} w-1/2`}>waiting for the drive is filled</th>
            <th className={HEAD_RIGHT}>time</th>
            <th className={HEAD_RIGHT}>waited</th>
          </tr>
        </thead>
        <tbody>
          {[
            { name: "recorded", time: recordedSeconds, waited: recordedWaitedSeconds },
            { name: "done again", time: seconds, waited: waitedSeconds },
          ].map(({ name, time, waited }) => (
            <tr key={name}>
              <td className={CELL}>{name}</td>
              <td className={CELL} aria-hidden>
                <TimeBar seconds={time} waited={waited} longest={longest} />
              </td>
              <td className={`${FIGURE} font-semibold`}>{long(time * 1e3)}</td>
              <td className={FIGURE}>
                {long(waited * 1e3)}, {formatPercent(time > 0 ? Math.min(1, waited / time) : 0)}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <ul className="list-disc pl-5">
        {workWords(figures).map((sentence) => (
          <li key={sentence}>{sentence}</li>
        ))}
      </ul>
      {phases.length > 1 && (
        <table className="w-full max-w-3xl">
          <caption className="text-left font-semibold">Phase by phase, from pause to pause</caption>
          <thead>
            <tr>
              {steps.length > 1 && <th className={HEAD}>recording</th>}
              <th className={HEAD_RIGHT}>from</th>
              <th className={HEAD_RIGHT}>recorded</th>
              <th className={HEAD_RIGHT}>waited</th>
              <th className={HEAD_RIGHT}>done again</th>
              <th className={HEAD_RIGHT}>waited</th>
              <th className={HEAD_RIGHT}>moved</th>
            </tr>
          </thead>
          <tbody>
            {phases.map(({ name, fromMs, recorded, replayed, bytes }, i) => (
              <tr key={i}>
                {steps.length > 1 && (
                  <td className={`${CELL} min-w-28 [overflow-wrap:anywhere]`}>{name}</td>
                )}
                {[fromMs, recorded.ms, recorded.waitedMs, replayed.ms, replayed.waitedMs].map(
                  (ms, column) => (
                    <td key={column} className={FIGURE}>
                      {long(ms)}
                    </td>
                  ),
                )}
                <td className={FIGURE}>{formatSize(bytes, 1000)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {first && <LatencyPicture step={first} caption={caption} beside={recordedTimes(first)} />}
    </div>
  );
}
