import fs from "node:fs";
import path from "node:path";
import type { DrillKind } from "@/core/drills/kind";
import { decodeLog } from "@/core/elsewhere/decode";
import { anyRecording } from "@/core/recording/any-recording";
import type { RecordedWork } from "@/core/run/recorded-work";
import type { RecordingWith } from "@/core/simulate/replay";
import { recordedWorkIn } from "@/services/recordings/recorded-work";
import { Usage } from "../exit";

/** What `--recording` names. */
export interface NamedRecordings {
  /** Null for a drill that does no recording again. */
  works: RecordedWork[] | null;
  /** Where each lies, by its digest. */
  files: Record<string, string>;
}

/**
 * The recordings that are named for a drill.
 *
 * @param named the files, as they were given
 * @throws Usage where a drill needs one and none is named, has no use for one, or one cannot be done again
 */
export function recordingsOf(kind: DrillKind, named: readonly string[] = []): NamedRecordings {
  if (!kind.recorded) {
    if (named.length > 0) throw new Usage(`--recording is nothing that can be set of ${kind.name}`);
    return { works: null, files: {} };
  }
  if (named.length === 0)
    throw new Usage("name the work that is to be done again with --recording");
  const works = named.map((file) => {
    try {
      return recordedWorkIn(file);
    } catch (error) {
      throw new Usage(`${file}: ${(error as Error).message}`);
    }
  });
  const files = Object.fromEntries(works.map(({ sha256 }, i) => [sha256, path.resolve(named[i]!)]));
  return { works, files };
}

/** Reads each recording once, as it is asked for. */
export function recordingsIn({ files }: NamedRecordings): RecordingWith {
  const read = new Map<string, ReturnType<typeof anyRecording>>();
  return (sha256) => {
    const file = files[sha256];
    if (file === undefined) return null;
    const known = read.get(sha256) ?? anyRecording(decodeLog(fs.readFileSync(file)));
    read.set(sha256, known);
    return known;
  };
}
