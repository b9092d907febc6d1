/**
 * A run on a host whose line may break has a folder of its own there: the job, every line that it told, numbered
 * from 0, and the socket by which whoever comes back is told what is missing. Paths in it are relative, since the
 * name of a socket may be no longer than 107 bytes (unix(7)); who uses it stands in it.
 */
export const JOB = "job.json";
export const LINES = "lines";
export const SOCKET = "socket";
/** What was recorded, where that was asked for. */
export const RECORDING = "recording.jsonl";

/** Said behind the number of the first missing line, of a run that was begun before. */
export const FOUND = "found";

/** A line with its number, by which none is taken twice, and none of a shell's greeting for one. */
export const numbered = (number: number, line: string): string => `${number} ${line}\n`;

/** What comes in beside the job. */
export const FROM = /^from (\d{1,12})$/;
/** Lets a repeat begin, by its number; said again it changes nothing. */
export const GO = /^go (\d{1,6})$/;
export const goLine = (repeat: number): string => `go ${repeat}\n`;
/** Ends the run. */
export const STOP = "stop";
/** The last line has arrived; nothing is needed any more. */
export const TAKEN = "taken";

/** A line of its own: the run's process died before its end. What it had told came before. */
export const DIED = "nerrit-run-died";
