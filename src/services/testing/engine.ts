import fs from "node:fs";
import { blankStep } from "@/core/run/step";

/** A measuring process that says what a test has written down for it, for tests only. */

export const CONDITIONS = {
  event: "conditions",
  conditions: {
    startedAt: "",
    nerrit: "",
    host: "",
    kernel: "",
    processor: "",
    cores: 1,
    loadAtStart: 0,
    target: "/x",
    targetKind: "directory",
    fileSystem: null,
    mountOptions: null,
    device: null,
    deviceBytes: null,
    freeBytes: null,
    scheduler: null,
    rotational: null,
    writeCache: null,
    requestLimitBytes: null,
    io: "direct",
    lane: "native",
    notes: [],
  },
};
export const started = (repeat = 0) => ({ event: "started", repeat, at: "2026-01-01" });
export const sample = (i: number, repeat = 0) => ({
  event: "sample",
  repeat,
  from: i * 100,
  ms: (i + 1) * 100,
  bytes: 4e6,
  written: 0,
  requests: 8,
  step: 0,
  target: 0,
});
export const samples = (count: number, repeat = 0) =>
  Array.from({ length: count }, (_, i) => sample(i, repeat));
export const stepped = (meanMBps: number, repeat = 0) => ({
  event: "stepped",
  repeat,
  step: 0,
  result: { ...blankStep("flow", {}), meanMBps, bytes: 4e6, ms: 100, requests: 8 },
});
export const finished = (repeat = 0) => ({ event: "finished", repeat, errors: [] });

/** Writes the measuring process to a file: it says these lines, then does what stands in `then`. */
export function writeEngine(
  file: string,
  lines: (object | string)[],
  then = "process.exit(0)",
): void {
  const text = lines.map((line) => (typeof line === "string" ? line : JSON.stringify(line)));
  fs.writeFileSync(
    file,
    `let said = "";
     process.stdin.on("data", (chunk) => { said += chunk; if (said.includes("stop\\n")) {
       process.stdout.write('{"event":"stopped"}\\n', () => process.exit(0)); } });
     process.stdin.once("data", () => process.stdout.write(${JSON.stringify(text.map((t) => `${t}\n`).join(""))}, () => { ${then} }));`,
  );
}
