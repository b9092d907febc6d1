import type { Rig } from "../chain/rig";
import type { Copy } from "../run/program";
import type { StepResult } from "../run/result";
import { blankStep } from "../run/step";
import { SAMPLE_MS, type SimulatedRig } from "./bench";

/** What a file costs beside its bytes: made, named, closed. Between 0.2 and 1 ms on the file systems tried. */
const FILE_MS = 0.4;
/** A copying program asks for a few blocks ahead, no more. */
const AHEAD = 4;

/**
 * Copies files on the simulated bench, from one of its sides to the other.
 *
 * @param there the rig at the copy's other end; null where that side is left out
 */
export function simulateCopy(
  here: SimulatedRig,
  there: SimulatedRig | null,
  step: Copy,
  number: number,
): StepResult {
  const [from, to] = [step.from, step.to].map((side) =>
    side === 0 ? here : side === 1 ? there : null,
  );
  const mix = step.mix ?? USUAL_FOLDER;
  const start = here.now;
  const asks = (writeShare: number) =>
    ({ writeShare, order: "sequential", block: step.block, depth: AHEAD }) as const;
  let [bytes, files, waitedForFromMs, waitedForToMs] = [0, 0, 0, 0];
  let moving = 0;
  for (const { files: many, bytes: size } of mix) {
    let left = many * size;
    let open = many * FILE_MS;
    while (left > 0 || open > 0) {
      const reads = from ? from.tick([0], asks(0), 0, SAMPLE_MS / 1e3)[0]! : Infinity;
      const writes = to ? to.tick([0], asks(1), 0, SAMPLE_MS / 1e3)[0]! : Infinity;
      const rate = Math.min(reads, writes);
      const whole = rate > 0 ? open + left / 1e3 / rate : Infinity;
      const ms = Math.min(SAMPLE_MS, whole);
      // Files and bytes share the time evenly.
      const share = Math.min(1, ms / whole);
      const moved = Math.round(left * share);
      const busy = ms - open * share;
      open -= open * share;
      left -= moved;
      bytes += moved;
      moving += busy;
      if (reads < writes) waitedForFromMs += busy * (1 - reads / Math.max(reads, writes));
      if (writes < reads) waitedForToMs += busy * (1 - writes / Math.max(reads, writes));
      const at = here.now;
      here.advance(ms);
      here.samples.push({
        from: at,
        ms: here.now,
        bytes: moved,
        written: to ? moved : 0,
        requests: Math.round(bytes / step.block) - Math.round((bytes - moved) / step.block),
        step: number,
        target: 0,
      });
      if (share === 1) break;
    }
    files += many;
  }
  const ms = here.now - start;
  return {
    ...blankStep("copy", step.label),
    meanMBps: ms > 0 ? bytes / 1e3 / ms : 0,
    bytes,
    written: to ? bytes : 0,
    ms,
    requests: Math.round(bytes / step.block),
    deviceBytes: bytes,
    copy: {
      files,
      waitedForFromMs,
      waitedForToMs,
      perFileMs: mix.length > 1 ? FILE_MS : null,
      perByteMBps: moving > 0 ? bytes / 1e3 / moving : null,
      fromMemory: 0,
      verified: step.verify ? files : 0,
      differing: [],
      kept: null,
    },
  };
}

/** What stands for the tester's own folder: a day's recordings, sixteen files of 4 GB. */
const USUAL_FOLDER = [{ files: 16, bytes: 4e9 }];

/** The other side of a rig's copy. @returns null where the rig is no copy */
export const otherSide = (rig: Rig): Rig | null =>
  rig.other.length === 0 ? null : { ...rig, parts: rig.other, other: [], beside: [] };
