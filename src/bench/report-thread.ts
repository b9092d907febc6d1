import path from "node:path";
import { Worker } from "node:worker_threads";

/** The bundle that makes reports, for a program that runs in the project's folder. */
export const BUNDLED = path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "report.mjs");

/**
 * Has something made in a thread of its own, so that pages answer meanwhile.
 *
 * @param file the bundle @param order what it is started with
 */
export const inThread = <T>(file: string, order: object): Promise<T> =>
  new Promise((resolve, reject) => {
    const worker = new Worker(file, { workerData: order, execArgv: [] });
    worker.once("message", resolve);
    worker.once("error", reject);
    worker.once("exit", () => reject(new Error("The report was not finished.")));
  });
