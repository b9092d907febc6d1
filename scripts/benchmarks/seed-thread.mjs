/** A thread of bench-size.mjs that fills a data folder with studies of simulated runs, beside another one. */
import { parentPort, workerData } from "node:worker_threads";
import { seeding } from "./many-runs.mjs";

const { folder, studies, half, rigs, repeats } = workerData;
const { seedManyRuns, openStore } = await seeding();
const store = openStore(folder);
// The other thread may store for long: nobody waits for an answer here.
store.$client.pragma("busy_timeout = 120000");
const ids = Array.from({ length: studies }, (_, i) =>
  seedManyRuns(store, {
    rigs,
    repeats,
    tracesOf: 0.1,
    title: `Very many runs ${half + 1}.${i + 1}`,
  }),
);
store.$client.close();
parentPort.postMessage(ids);
