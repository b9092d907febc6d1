import { once } from "node:events";
import path from "node:path";
import { Worker } from "node:worker_threads";
import type { Contents } from "@/core/backup/backup";
import { Problem } from "../problem";
import type { BackupOrder, BackupSaid } from "./thread-order";

/** The bundle of the thread, for a program that runs in the project's folder. */
const BUNDLED = path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "backup.mjs");

/** Makes or reads a backup. @throws Problem that says what went wrong */
export type InBackupThread = (order: BackupOrder) => Promise<Contents>;

/** The same in a thread of its own: pages answer meanwhile. */
export const inBackupThread: InBackupThread = async (order) => {
  const worker = new Worker(BUNDLED, { workerData: order, execArgv: [] });
  const ended = once(worker, "exit").then((): never => {
    throw new Error("The backup's thread ended before it was done.");
  });
  const [said] = (await Promise.race([once(worker, "message"), ended])) as [BackupSaid];
  ended.catch(() => undefined);
  if ("problem" in said) throw new Problem(422, said.problem);
  return said.contents;
};
