import { askedOf } from "@/core/recording/asked";
import type { Recording } from "@/core/recording/recording-file";
import { askedWords, programsOf } from "@/core/recording/recording-words";
import type { RecordedWork } from "@/core/run/recorded-work";
import { counted } from "@/core/units/counted";
import { formatNumber } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { table } from "./lines";

/** What a recording names in the place of trace points where it is one of calls. */
const CALLS = "syscalls";
const OF_CALLS =
  "These are calls of programs on files of a folder: those that the system's memory answered are among them.";

/** Programs that are listed. */
const LISTED = 8;

/** What the recorded work asks of a drive, a sentence a line, and its programs. */
export function recordingText(recording: Recording): string[] {
  const { head, requests, end } = recording;
  const programs = programsOf(recording);
  return [
    ...askedWords(askedOf(requests, end.ms)),
    ...(head.points.includes(CALLS) ? [OF_CALLS] : []),
    ...(end.reason ? [end.reason] : []),
    "",
    ...table(
      ["program", "requests", "moved"],
      programs
        .slice(0, LISTED)
        .map((one) => [one.name, formatNumber(one.requests), formatSize(one.bytes, 1000)]),
    ),
    ...(programs.length > LISTED ? [`and ${counted(programs.length - LISTED, "more")}`] : []),
  ];
}

/**
 * The document of `nerrit record --json`, and of `nerrit read --json` for a recording (docs/formats.md).
 *
 * @param file where the recording is
 * @param work what doing it again takes; null where it cannot be done again
 */
export function recordingDocument(recording: Recording, file: string, work: RecordedWork | null) {
  const { head, requests, end } = recording;
  const asked = askedOf(requests, end.ms);
  return {
    format: "nerrit-asked",
    version: 1,
    recording: file,
    head,
    requests: requests.length,
    bytesRead: asked.read.bytes,
    bytesWritten: asked.write.bytes,
    ...asked,
    programs: programsOf(recording),
    lost: end.lost,
    counted: end.counted,
    reason: end.reason,
    work,
  };
}
