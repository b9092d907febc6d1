import path from "node:path";
import { Worker } from "node:worker_threads";
import type { ThreadOrder } from "@/core/report/order";

/** The bundle that makes reports, for a program that runs in the project's folder. */
export const BUNDLED = path.join(/* turbopackIgnore: true */ process.cwd(), "dist", "report.mjs");

/** How long the thread is kept when nothing is asked of it: what it has worked out helps the next report. */
const KEPT_MS = 120_000;

interface Thread {
  file: string;
  worker: Worker;
  waiting: Map<number, { resolve: (made: never) => void; reject: (error: Error) => void }>;
  idle: NodeJS.Timeout | null;
}
const shared = globalThis as { nerritReportThread?: Thread | null; nerritReportOrders?: number };

/**
 * Has something made in a thread of its own, so that pages answer meanwhile.
 *
 * @param file the bundle @param order what is to be made
 */
export function inThread<T>(file: string, order: ThreadOrder): Promise<T> {
  const thread = threadOf(file);
  const number = (shared.nerritReportOrders = (shared.nerritReportOrders ?? 0) + 1);
  if (thread.idle) clearTimeout(thread.idle);
  return new Promise<T>((resolve, reject) => {
    thread.waiting.set(number, { resolve, reject });
    thread.worker.postMessage({ number, order });
  }).finally(() => {
    if (thread.waiting.size > 0) return;
    thread.idle = setTimeout(() => void thread.worker.terminate(), KEPT_MS).unref();
  });
}

function threadOf(file: string): Thread {
  const known = shared.nerritReportThread;
  if (known?.file === file) return known;
  const worker = new Worker(file, { workerData: { reports: true }, execArgv: [] });
  // It keeps no program from ending.
  worker.unref();
  const thread: Thread = { file, worker, waiting: new Map(), idle: null };
  shared.nerritReportThread = thread;
  const end = (error: Error) => {
    if (shared.nerritReportThread === thread) shared.nerritReportThread = null;
    for (const { reject } of thread.waiting.values()) reject(error);
    thread.waiting.clear();
  };
  worker.on(
    "message",
    ({ number, made, error }: { number: number; made?: never; error?: string }) => {
      const order = thread.waiting.get(number);
      thread.waiting.delete(number);
      if (made !== undefined) order?.resolve(made);
      else order?.reject(new Error(error));
    },
  );
  worker.once("error", end);
  worker.once("exit", () => end(new Error("The report was not finished.")));
  return thread;
}
