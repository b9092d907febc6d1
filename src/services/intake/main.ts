import { parentPort, workerData } from "node:worker_threads";
import { isProblem } from "../problem";
import { takeApart, type IntakeOrder } from "./order";

/** What the thread says: what it is at, what it made, or why it could not. */
export type Said =
  | { at: string }
  | { made: unknown }
  | { problem: { status: number; message: string; fields: object[]; code: string | null } }
  | { error: string };

/** The program of a thread that takes one large input apart, and ends. */
const say = (said: Said) => parentPort!.postMessage(said);
try {
  say({ made: takeApart(workerData as IntakeOrder, (at) => say({ at })) });
} catch (error) {
  if (isProblem(error)) {
    const { status, message, fields, code } = error;
    say({ problem: { status, message, fields, code } });
  } else say({ error: (error as Error).stack ?? String(error) });
}
