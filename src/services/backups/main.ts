import { parentPort, workerData } from "node:worker_threads";
import { backUp, contentsOf } from "@/store/backup";
import type { BackupOrder, BackupSaid } from "./thread-order";

/** The program of a thread that makes or reads one backup, and ends. */
async function done(order: BackupOrder): Promise<BackupSaid> {
  try {
    const contents =
      order.do === "back up"
        ? await backUp(order.from, order.to)
        : contentsOf(order.file, order.migrations);
    return { contents };
  } catch (error) {
    return { problem: (error as Error).message };
  }
}

parentPort!.postMessage(await done(workerData as BackupOrder));
