import { randomUUID } from "node:crypto";
import fs from "node:fs";
import { startEngineOn } from "@/services/hosts/engine-on";
import { fetchFile } from "@/services/hosts/fetch";
import { RECORDING } from "@/engine/away/run-folder";
import packageJson from "../../../package.json";
import { Failure } from "../exit";
import { readyOn, touchText } from "../on-host";
import type { ProgressLine } from "../progress-line";

/** What is recorded on a host. */
export interface RecordedThere {
  host: string;
  place: string;
  command: string[] | null;
  /** The file here; a new one. */
  out: string;
  stop: AbortSignal;
  tell: (requests: number) => void;
}

/**
 * Records on a host. A line that is cut ends nothing: the recording is fetched once it is whole and the host is
 * reached again.
 *
 * @returns how the work ended, as a shell counts; null where there was none
 * @throws Failure that says what is in the way
 */
export async function recordOn(
  { host, place, command, out, stop, tell }: RecordedThere,
  line: ProgressLine,
): Promise<number | null> {
  reserve(out);
  let [bytes, status] = [0, null as number | null];
  try {
    const ready = await readyOn(host);
    const record = { place, command, nerrit: packageJson.version };
    const engine = startEngineOn(
      ready,
      {
        id: randomUUID(),
        job: { record },
        fetch: async (folder) => {
          if (bytes > 0) await fetchFile(host, `${folder}/${RECORDING}`, out, bytes);
        },
      },
      (event) => {
        if (event.event === "recording") tell(event.requests);
        else if (event.event === "recorded") [bytes, status] = [event.bytes, event.status];
      },
      (touch) => {
        line.clear();
        process.stderr.write(`${touchText(touch)}\n`);
      },
    );
    const halt = () => engine.stop();
    if (stop.aborted) halt();
    stop.addEventListener("abort", halt, { once: true });
    const end = await engine.ended;
    if ("reason" in end)
      throw new Failure(bytes > 0 ? `${end.reason} What came is ${out}.` : end.reason);
    return status;
  } finally {
    // Nothing came: there was nothing to record, or no room here.
    if (fs.statSync(out, { throwIfNoEntry: false })?.size === 0) fs.rmSync(out);
  }
}

/** Makes sure that the file can be written before anything begins. @throws Failure */
function reserve(out: string): void {
  try {
    fs.closeSync(fs.openSync(out, "wx"));
  } catch (error) {
    const { code, message } = error as NodeJS.ErrnoException;
    throw new Failure(
      code === "EEXIST"
        ? `${out} is there already; name another with --out, so that nothing is lost.`
        : `${out} could not be made: ${message}`,
    );
  }
}
