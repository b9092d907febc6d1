import type { Drill } from "../drills/drill";

const CONDITIONS = {
  startedAt: "2026-11-30T10:00:00.000Z",
  nerrit: "0.1.0",
  host: "router",
  kernel: "Linux 5.15",
  processor: "unknown",
  cores: 2,
  loadAtStart: 0,
  memoryBytes: null,
  target: "/media/drive",
  targetKind: "directory",
  fileSystem: "ext4",
  mountOptions: null,
  device: null,
  drive: null,
  link: null,
  deviceBytes: null,
  freeBytes: null,
  scheduler: null,
  rotational: null,
  writeCache: null,
  requestLimitBytes: null,
  io: "direct",
  lane: "native",
  notes: [],
  quiet: [],
};
/** Of each sample: how long it is, milliseconds, and what it moves, bytes. */
const SAMPLE = { ms: 100, bytes: 10 * 2 ** 20 };
const SAMPLES = 10;

/** What the program that measures without Nerrit says of a drill of one reading step, for tests only. */
export function toldByProgram(drill: Drill, repeats: number): { event?: string }[] {
  const at = "2026-11-30T10:00:01.000Z";
  const row = (i: number) => [i * SAMPLE.ms, (i + 1) * SAMPLE.ms, SAMPLE.bytes, 0, 10, 0];
  const repeat = (number: number) => [
    { event: "started", repeat: number, at },
    ...Array.from({ length: SAMPLES }, (_, i) => ({
      event: "sample",
      repeat: number,
      row: row(i),
    })),
    {
      event: "counted",
      repeat: number,
      step: 0,
      doing: "flow",
      label: {},
      seconds: 1,
      bytes: null,
      countFlush: null,
      block: 2 ** 20,
      requests: 10 * SAMPLES,
      startMs: 0,
      ms: SAMPLES * SAMPLE.ms,
      read: SAMPLES * SAMPLE.bytes,
      written: 0,
      processorUs: 900,
      deviceBytes: null,
      flushMs: null,
      readTimes: null,
      writeTimes: null,
      faults: [],
      moreFaults: 0,
    },
    { event: "finished", repeat: number },
  ];
  return [
    { format: "nerrit-lines", version: 1, program: "0.1.0", rig: "router" },
    {
      event: "measuring",
      id: "7ad0acc3-3fbf-4250-a43b-94bbdfc9b8ce",
      createdAt: at,
      drill,
      target: CONDITIONS.target,
      other: null,
    },
    { event: "conditions", conditions: CONDITIONS },
    ...Array.from({ length: repeats }, (_, number) => repeat(number)).flat(),
    { event: "ended", status: "done", reason: null },
  ] as { event?: string }[];
}
