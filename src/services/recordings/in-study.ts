import { createHash } from "node:crypto";
import fs from "node:fs";
import { worksOf } from "@/core/drills/kinds/encore";
import { anyRecording, isRecording } from "@/core/recording/any-recording";
import type { StudyFile } from "@/core/exchange/study-file";
import type { Drill } from "@/core/drills/drill";
import { Problem } from "../problem";
import type { Recordings } from "./recordings";

/** What a study's file holds of recordings, bytes: beside them its runs have to fit. */
const MOST_BYTES = 32 * 2 ** 20;

type FiledRecording = NonNullable<StudyFile["recordings"]>[number];

/**
 * The recordings that a study's runs did again, as its file holds them. One that is not here any more, or for
 * which there is no room, is left out.
 *
 * @param fileWith where the recording with a digest lies
 */
export function recordingsFor(
  measurements: readonly { drill: Drill }[],
  fileWith: Recordings["fileWith"],
): FiledRecording[] {
  const works = new Map(
    measurements.flatMap(({ drill }) => worksOf(drill)).map((work) => [work.sha256, work]),
  );
  let left = MOST_BYTES;
  return [...works.values()].flatMap(({ sha256, name }) => {
    const file = fileWith(sha256);
    if (!file || fs.statSync(/* turbopackIgnore: true */ file).size > left) return [];
    const text = fs.readFileSync(/* turbopackIgnore: true */ file, "utf8");
    left -= text.length;
    return [{ sha256, name, text }];
  });
}

/** Looks through the recordings of a study's file. @throws Problem for one that is not what it should be */
export function checkRecordings(recordings: readonly FiledRecording[]): void {
  for (const [i, { sha256, text }] of recordings.entries()) {
    const refuse = (what: string) => new Problem(422, `recordings ${i + 1}: ${what}`);
    if (createHash("sha256").update(text).digest("hex") !== sha256)
      throw refuse("is not the recording that it says");
    if (!isRecording(text)) throw refuse("is no recording");
    try {
      anyRecording(text);
    } catch (error) {
      throw refuse((error as Error).message);
    }
  }
}

/**
 * Keeps the recordings of a study's file that are not here yet.
 *
 * @returns takes them away again
 * @throws Problem where one holds nothing that can be done again; then none is kept
 */
export async function takeRecordings(
  recordings: Pick<Recordings, "fileWith" | "take" | "remove">,
  filed: readonly FiledRecording[],
): Promise<() => void> {
  const taken: string[] = [];
  const undo = () => taken.splice(0).forEach((id) => recordings.remove(id));
  try {
    for (const { sha256, name, text } of filed) {
      if (recordings.fileWith(sha256)) continue;
      // What looks like a suffix would be taken for one.
      const { id } = await recordings.take(Buffer.from(text), `${name}.jsonl`);
      taken.push(id);
    }
  } catch (problem) {
    undo();
    throw problem;
  }
  return undo;
}
