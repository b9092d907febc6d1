import fs from "node:fs";
import path from "node:path";
import { decodeLog } from "@/core/elsewhere/decode";
import { anyRecording } from "@/core/recording/any-recording";
import type { Recording } from "@/core/recording/recording-file";
import type { RecordedWork } from "@/core/run/recorded-work";
import { log } from "../log";
import { toldBeside } from "./told";

/** Recordings of real programs at work, each with what was found out about it (docs/sample-recordings.md). */
const SAMPLES = path.join(/* turbopackIgnore: true */ process.cwd(), "demo", "recordings");

/** Whether a recording is one of the samples, by its identifier. */
export const isSample = (id: string): boolean => id.startsWith("sample-");

/**
 * Puts the sample recordings there that are missing. They come and go with the sample studies.
 *
 * @param folder of the recordings; made where it is not there
 */
export function putSamples(folder: string, samples = SAMPLES): void {
  fs.mkdirSync(folder, { recursive: true, mode: 0o700 });
  for (const name of fs.readdirSync(samples)) {
    const at = path.join(/* turbopackIgnore: true */ folder, name);
    if (fs.existsSync(at)) continue;
    // For the tester alone, and whole or not at all.
    fs.writeFileSync(`${at}.new`, fs.readFileSync(path.join(samples, name)), { mode: 0o600 });
    fs.renameSync(`${at}.new`, at);
  }
}

/** The same at a start, which no disk without room for samples keeps from going on: they can be restored later. */
export function putSamplesIfPossible(folder: string, samples = SAMPLES): void {
  try {
    putSamples(folder, samples);
  } catch (error) {
    log.warn({ err: error }, "the sample recordings could not be put there");
  }
}

/** Takes the sample recordings away; what the tester recorded stays. */
export function removeSamples(folder: string, samples = SAMPLES): void {
  for (const name of fs.readdirSync(samples))
    fs.rmSync(path.join(/* turbopackIgnore: true */ folder, name), { force: true });
}

/** A sample recording, and what doing it again takes. @param id as its files are called */
export function sampleRecording(
  id: string,
  samples = SAMPLES,
): { recording: Recording; work: RecordedWork } {
  const file = path.join(/* turbopackIgnore: true */ samples, `${id}.jsonl`);
  const { work } = toldBeside(samples, id, fs.statSync(file).size) ?? {};
  if (!work) throw new Error(`Nothing is known of the sample recording ${id}.`);
  return { recording: anyRecording(decodeLog(fs.readFileSync(file))), work };
}
