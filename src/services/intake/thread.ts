import path from "node:path";
import { Worker } from "node:worker_threads";
import { Problem } from "../problem";
import type { Said } from "./main";
import type { IntakeMade, IntakeOrder } from "./order";

/** The bundle of the thread, for a program that runs in the project's folder. */
const BUNDLED = path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "intake.mjs");

/** Memory that one input may need while it is taken apart, MiB: twenty times what the largest may hold. */
const MOST_MEMORY = 1280;

/** For so long at most an input is read: the largest takes some ten seconds on a slow machine. */
const MOST_MS = 180_000;

const shared = globalThis as { nerritIntake?: Promise<unknown> };

/**
 * Takes something large apart in a thread of its own, so that pages answer meanwhile. One at a time: two
 * would need the memory of both.
 *
 * @param signal stops it
 * @param tell what it is at
 * @throws Problem that says where the input is wrong, or that it needs too much memory
 */
export async function inIntakeThread<K extends keyof IntakeMade>(
  order: IntakeOrder & { kind: K },
  { signal, tell }: { signal: AbortSignal; tell: (words: string) => void },
  file = BUNDLED,
): Promise<IntakeMade[K]> {
  const before = shared.nerritIntake;
  if (before) tell("waiting for another file that is being read");
  const mine = (before ?? Promise.resolve()).then(() => done<K>(order, signal, tell, file));
  const settled = mine.catch(() => undefined);
  shared.nerritIntake = settled;
  try {
    return await mine;
  } finally {
    if (shared.nerritIntake === settled) shared.nerritIntake = undefined;
  }
}

const STOPPED = () => new Problem(409, "It was stopped. Nothing was imported.", [], "stopped");

function done<K extends keyof IntakeMade>(
  order: IntakeOrder,
  signal: AbortSignal,
  tell: (words: string) => void,
  file: string,
): Promise<IntakeMade[K]> {
  if (signal.aborted) return Promise.reject(STOPPED());
  return new Promise((resolve, reject) => {
    const worker = new Worker(file, {
      workerData: order,
      execArgv: [],
      resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY },
    });
    const tooLong = () =>
      over(
        new Problem(
          413,
          `It was not read within ${MOST_MS / 60_000} minutes. Nothing was imported.`,
        ),
      );
    const timer = setTimeout(tooLong, MOST_MS);
    const stop = () => over(STOPPED());
    signal.addEventListener("abort", stop, { once: true });
    /** Ends the thread, whatever it is at. */
    const over = (why: Error | null) => {
      clearTimeout(timer);
      signal.removeEventListener("abort", stop);
      if (why) reject(why);
      void worker.terminate();
    };
    worker.on("message", (said: Said) => {
      if ("at" in said) tell(said.at);
      else if ("made" in said) {
        resolve(said.made as IntakeMade[K]);
        over(null);
      } else if ("problem" in said) {
        const { status, message, fields, code } = said.problem;
        over(new Problem(status as 422, message, fields as Problem["fields"], code));
      } else over(new Error(said.error));
    });
    worker.once("error", (error: Error & { code?: string }) =>
      over(
        error.code === "ERR_WORKER_OUT_OF_MEMORY"
          ? new Problem(
              413,
              `It needs more than ${MOST_MEMORY} MiB of memory to be read. Nothing was imported. Import it in parts.`,
            )
          : error,
      ),
    );
    worker.once("exit", () => over(new Error("The reading was not finished.")));
  });
}
