import { nameBottleneck } from "../chain/wording";
import { kindOf, titleOf } from "../drills/drill";
import { bottleneckOf } from "../chain/bottleneck";
import { endOf, flowOf, startOf, type Flow } from "../reading/flow";
import { farLoadOf } from "../reading/far-load";
import { readTrace } from "../reading/read";
import { hasLevels } from "../drills/shape";
import { settingsWords, type Measurement, type Run } from "./measurement";
import { Direction } from "../units/rate";
import type { OpenTrace } from "./open-trace";
import { reduced } from "../reading/reduce";

/** Requests below this are small enough for their number to matter, bytes. */
const SMALL = 64 * 1024;

/**
 * Everything that a picture of a run's trace needs.
 *
 * @param run with its samples
 * @param most places of the picture
 * @param flow of its samples, where it is known already
 */
export function openRun(
  {
    id,
    rigId,
    rig,
    drill,
    origin,
    createdAt,
    conditions,
  }: Pick<Measurement, "id" | "rigId" | "rig" | "drill" | "origin" | "createdAt" | "conditions">,
  run: Pick<
    Run,
    "id" | "repeat" | "steps" | "samples" | "events" | "readings" | "corrections" | "leftOut"
  >,
  most: number,
  flow: Flow = flowOf(run.samples),
): Omit<OpenTrace, "studyId" | "photos"> {
  const { samples, readings, events, steps, corrections, leftOut } = run;
  const way = Direction.safeParse(drill.direction).data;
  const bottleneck = way ? bottleneckOf(rig, way) : null;
  const busiest = steps.toSorted((a, b) => b.requests - a.requests)[0];
  const block = "block" in drill && typeof drill.block === "number" ? drill.block : null;
  return {
    runId: run.id,
    measurementId: id,
    repeat: run.repeat,
    rigId,
    rigName: rig.name,
    origin,
    createdAt,
    ofOthers: origin === "watched" || origin === "imported",
    drill: titleOf(drill),
    direction: drill.direction,
    summary: `${kindOf(drill).what}: ${settingsWords({ drill, origin })}`,
    samples: samples.length,
    startMs: startOf(flow),
    endMs: endOf(flow),
    places: reduced(flow, startOf(flow), endOf(flow), most),
    readings,
    reading:
      samples.length > 0 && hasLevels(drill)
        ? readTrace({
            samples,
            readings,
            events,
            corrections,
            freeBytes: conditions?.freeBytes ?? null,
          })
        : null,
    corrections,
    leftOut,
    ceiling: bottleneck && {
      mbps: bottleneck.ceiling,
      name: nameBottleneck(bottleneck)
        .map(({ text }) => text)
        .join(""),
    },
    busiestCore: busiest?.busiestCore ?? null,
    farHost: farLoadOf(readings),
    smallBlock: block !== null && block <= SMALL ? block : null,
    timed: busiest?.read || busiest?.write ? busiest : null,
  };
}
