import { Joint } from "@/core/joint/joint";
import { jointFlow, partsOf, type Part } from "@/core/joint/parts";
import type { EngineEvent, Job } from "@/core/run/protocol";
import type { Place } from "@/core/units/place";
import type { EngineEnd, EngineProcess } from "./engine-process";

/** Starts a part on its machine. */
export type StartPart = (part: Part, tell: (event: EngineEvent) => void) => EngineProcess;

/**
 * Starts a run on several machines: a measuring process on each. They begin each repeat together, and what they tell
 * is told as one run. Where one of them ends early, the others are stopped.
 *
 * @param places of the job's targets
 * @param tell called with every event but the last, in order
 */
export function startTogether(
  job: Job,
  places: readonly Place[],
  start: StartPart,
  tell: (event: EngineEvent) => void,
): EngineProcess {
  const parts = partsOf(job, places);
  const joint = new Joint(parts, jointFlow(job));
  const engines: EngineProcess[] = [];
  const stop = () => engines.forEach((engine) => engine.stop());
  const hear = (part: number, event: EngineEvent) => {
    joint.hear(part, event, Date.now()).forEach(tell);
    const next = joint.toBegin;
    if (next === null) return;
    joint.begin(Date.now());
    for (const engine of engines) engine.go(next);
  };
  for (const [i, part] of parts.entries()) engines.push(start(part, (event) => hear(i, event)));
  const ends = engines.map(async ({ ended }, i) => {
    const end = await ended;
    if (end.kind === "done") return end;
    stop();
    return named(end, joint.nameOf(i));
  });
  const ended = (async (): Promise<EngineEnd> => {
    // Of several that ended early the first is told: the others were stopped for it.
    const early = Promise.race(
      ends.map((end) =>
        end.then((how) => (how.kind === "done" ? new Promise<never>(() => {}) : how)),
      ),
    );
    const all = Promise.all(ends);
    const first = await Promise.race([early, all.then(() => null)]);
    await all;
    joint.rest().forEach(tell);
    return first ?? { kind: "done" };
  })();
  return { stop, go: () => undefined, ended };
}

/** An end whose reason says on which machine. */
const named = (end: EngineEnd, machine: string): EngineEnd =>
  "reason" in end ? { ...end, reason: `On ${machine}: ${end.reason}` } : end;
