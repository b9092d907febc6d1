import { counted } from "../units/counted";
import {
  formatDuration,
  formatMicroseconds,
  formatNumber,
  formatPercent,
  formatRate,
} from "../units/number";
import { formatSize } from "../units/size";
import type { AskedOfDrive, Flow } from "./asked";
import type { Recording } from "./recording-file";
import type { RecordedRequest } from "./request";

/** Lengths as people say them: "4.2 s", "3 min". */
const long = (seconds: number): string => formatDuration(seconds * 1e3);

/** What a piece of work asks of a drive, a sentence each, what matters most first. */
export function askedWords(asked: AskedOfDrive): string[] {
  const { seconds, busyShare } = asked;
  if (asked.read.requests + asked.write.requests === 0)
    return [`Nothing was read or written in ${long(seconds)}.`];
  return [
    `The drive had something to do for ${formatPercent(busyShare)} of ${long(seconds)}. A drive without any delay would save ${long(seconds * busyShare)} at most.`,
    ...flowWords("Read", asked.read),
    ...flowWords("Wrote", asked.write),
    `The middle request is of ${formatSize(asked.medianBytes)}; ${formatPercent(asked.largeShare)} of the bytes came in requests of 64 KiB and more.`,
    `${formatPercent(asked.randomShare)} of the requests began where no recent one had ended.`,
    `${formatNumber(asked.meanDepth, 1)} requests were under way at once while there was any, ${formatNumber(asked.mostDepth)} at most.`,
    ...(asked.medianUs === null || asked.p99Us === null
      ? []
      : [
          `A request took ${formatMicroseconds(asked.medianUs)} in the middle, and 1 in 100 more than ${formatMicroseconds(asked.p99Us)}.`,
        ]),
    ...otherWords(asked),
    `${formatSize(asked.workingSetBytes)} of the drive were touched.`,
  ];
}

function flowWords(verb: string, { bytes, requests, meanMBps, peakMBps }: Flow): string[] {
  if (requests === 0) return [];
  return [
    `${verb} ${formatSize(bytes, 1000)} in ${counted(requests, "request")}: ${formatRate(meanMBps)} MB/s over the whole time, ${formatRate(peakMBps)} MB/s in the busiest second.`,
  ];
}

function otherWords({ flushes, discards, pauses, pausedSeconds }: AskedOfDrive): string[] {
  const others = [
    ...(flushes > 0 ? [counted(flushes, "flush", "flushes")] : []),
    ...(discards > 0 ? [counted(discards, "discard")] : []),
  ];
  return [
    ...(others.length > 0 ? [`Beside them ${others.join(" and ")}.`] : []),
    ...(pauses > 0
      ? [`${counted(pauses, "pause")} of a second and more, ${long(pausedSeconds)} in all.`]
      : []),
  ];
}

/** What one program asked for. */
export interface ProgramShare {
  name: string;
  requests: number;
  bytes: number;
}

/** The programs of a recording, the one that moved the most first. */
export function programsOf({
  requests,
  programs,
}: Pick<Recording, "requests" | "programs">): ProgramShare[] {
  const shares = new Map<number, ProgramShare>();
  for (const { program, kind, bytes } of requests) {
    const share = shares.get(program) ?? nameless(program, programs);
    share.requests += 1;
    // What is discarded is not moved.
    if (kind === "read" || kind === "write") share.bytes += bytes;
    shares.set(program, share);
  }
  return [...shares.values()].toSorted((a, b) => b.bytes - a.bytes || b.requests - a.requests);
}

const nameless = (program: RecordedRequest["program"], names: readonly string[]): ProgramShare => ({
  name: names[program] ?? `program ${program + 1}`,
  requests: 0,
  bytes: 0,
});
