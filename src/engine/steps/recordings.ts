import { createHash } from "node:crypto";
import fs from "node:fs/promises";
import { anyRecording } from "@/core/recording/any-recording";
import type { Recording } from "@/core/recording/recording-file";
import type { Job } from "@/core/run/protocol";
import { Refusal } from "../refusal";

/** The recordings of a job, by SHA-256 of their files. */
export type Recordings = ReadonlyMap<string, Pick<Recording, "requests" | "end">>;

/**
 * Reads the recordings that a job's program names.
 *
 * @throws Refusal where one is missing, or is another one by now
 */
export async function recordingsOf({ program, recordings }: Job): Promise<Recordings> {
  const found = new Map<string, Pick<Recording, "requests" | "end">>();
  const named = program.flatMap((step) => (step.do === "replay" ? step.works : []));
  for (const sha256 of new Set(named.map((work) => work.sha256))) {
    const { requests, end } = await recordingAt(recordings[sha256], sha256);
    found.set(sha256, { requests, end });
  }
  return found;
}

async function recordingAt(file: string | undefined, sha256: string): Promise<Recording> {
  if (file === undefined)
    throw new Refusal("no-recording", "The recording that is to be done again was not named.");
  let bytes: Buffer;
  try {
    bytes = await fs.readFile(file);
  } catch (error) {
    throw new Refusal("no-recording", `${file} cannot be read: ${(error as Error).message}.`);
  }
  if (createHash("sha256").update(bytes).digest("hex") !== sha256)
    throw new Refusal(
      "no-recording",
      `${file} is no longer the recording that was chosen: it was changed. Choose it again.`,
    );
  try {
    return anyRecording(bytes.toString("utf8"));
  } catch (error) {
    throw new Refusal("no-recording", `${file} is no recording: ${(error as Error).message}.`);
  }
}
