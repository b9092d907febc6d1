import type { Outside } from "./outside";
import type { EngineEvent } from "@/core/run/protocol";
import { RunFailure } from "./refusal";

/**
 * Silence after which a drive is taken to answer no more. A disk that the kernel drives itself has
 * answered or failed by then: 30 s a try and five tries more (SD_TIMEOUT and SD_MAX_RETRIES of the
 * kernel's drivers/scsi/sd.h). A file system over a network or in a user's process may wait for ever.
 */
const SILENCE_MS = 200_000;

/** A time without a word that is no silence of the drive's: words of a run under way come ten a second. */
const GAP_MS = 10_000;

/** How long a run that is to stop may take; a flow gives up on what is in flight a little earlier. */
const STOP_MS = 25_000;

/**
 * Does work on drives, but waits neither for ever for their answer nor, once it is to stop, for long.
 *
 * @param targets whose answers the work waits for
 * @throws RunFailure where they do not come; the work is then left behind as it stands
 */
export async function patiently(
  targets: readonly string[],
  outside: Outside,
  work: (outside: Outside) => Promise<EngineEvent>,
): Promise<EngineEvent> {
  const named = targets.length > 1 ? `one of ${targets.join(" and ")}` : targets[0]!;
  let giveUp!: (error: Error) => void;
  const lost = new Promise<never>((_, reject) => (giveUp = reject));
  const after = (ms: number, text: string) => setTimeout(() => giveUp(new RunFailure(text)), ms);

  const opening = after(
    SILENCE_MS,
    `For ${SILENCE_MS / 1e3} s ${named} did not answer while the run was opened. Nothing was measured.`,
  );
  let stopping: NodeJS.Timeout | undefined;
  const onStop = () => {
    stopping = after(
      STOP_MS,
      `Stopped, but ${named} did not answer for ${STOP_MS / 1e3} s more, and is waited for no longer. What was measured until then is kept.`,
    );
  };
  if (outside.stop.aborted) onStop();
  else outside.stop.addEventListener("abort", onStop, { once: true });

  let heard = performance.now();
  let told = heard;
  let prepared = -1;
  const tell = (event: EngineEvent) => {
    outside.tell(event);
    clearTimeout(opening);
    const nothingNew =
      (event.event === "sample" && event.bytes === 0 && event.requests === 0) ||
      (event.event === "preparing" && event.bytes === prepared);
    if (event.event === "preparing") prepared = event.bytes;
    const now = performance.now();
    // Only while it is told again and again that nothing came: a flush, or a rest, may last.
    if (!nothingNew || now - told > GAP_MS) heard = now;
    told = now;
    if (now - heard > SILENCE_MS) {
      giveUp(
        new RunFailure(
          `For ${SILENCE_MS / 1e3} s ${named} did not answer requests. What was measured until then is kept.`,
        ),
      );
    }
  };
  try {
    return await Promise.race([work({ ...outside, tell }), lost]);
  } finally {
    clearTimeout(opening);
    clearTimeout(stopping);
    outside.stop.removeEventListener("abort", onStop);
  }
}
