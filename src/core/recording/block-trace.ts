import { MOST_BYTES, MOST_MS } from "../units/bounds";
import { foreignRecording, MOST_REQUESTS, ProgramNumbers, type Recording } from "./recording-file";
import { SECTOR, type FlushAround, type RecordedRequest, type RequestKind } from "./request";

/**
 * The text that Linux's own printer of block traces writes (blkparse(1), "default output"): device, processor,
 * number, time in seconds, process, action, letters of the request, then place and length in sectors and the
 * program's name: "8,0 3 1 0.000000000 697 D W 223490 + 8 [kjournald]".
 */
const LINE =
  /^\s*(\d+,\d+)\s+\d+\s+\d+\s+(\d+\.\d+)\s+\d+\s+([A-Z]{1,2})\s+([A-Z]+)(?:\s+(\d+)(?: \+ (\d+))?)?\s+\[([^\]]*)\]\s*$/;

/** A line, as far as it is needed. */
interface Told {
  device: string;
  us: number;
  action: string;
  kind: RequestKind;
  sector: number;
  sectors: number;
  program: string;
  flush: FlushAround | undefined;
}

/** Whether a text is such a trace: whether one of its first lines is one of the printer's. */
export const isBlockTrace = (text: string): boolean =>
  text
    .slice(0, 4000)
    .split("\n")
    .slice(0, 20)
    .some((line) => LINE.test(line));

/**
 * Reads a recording out of such a trace. A request begins where it goes to the device's driver (D), or where it
 * is queued (Q) in a trace that has no D, and is answered at C.
 *
 * @throws RangeError where there is no request in it, or it tells of more than one device
 */
export function recordingOfBlockTrace(text: string): Recording {
  const told = text.split("\n").flatMap((line, i) => toldOf(line, i + 1) ?? []);
  const devices = [...new Set(told.map(({ device }) => device))];
  if (devices.length > 1)
    throw new RangeError(
      `the trace tells of ${devices.length} devices (${devices.slice(0, 4).join(" and ")}); print one of them alone`,
    );
  const begins = told.some(({ action }) => action === "D") ? "D" : "Q";
  const numbers = new ProgramNumbers();
  const requests: RecordedRequest[] = [];
  const open = new Map<string, RecordedRequest[]>();
  const [first] = told;
  // The printer puts lines of several processors in the order of their times; a stable sort leaves ties alone.
  for (const one of told.toSorted((a, b) => a.us - b.us)) {
    const key = `${one.kind} ${one.sector}`;
    const at = one.us - first!.us;
    if (one.action === begins) {
      const request = requestOf(one, Math.max(0, at), numbers);
      requests.push(request);
      const alike = open.get(key);
      if (alike) alike.push(request);
      else open.set(key, [request]);
    } else if (one.action === "C") {
      const asked = open.get(key)?.shift();
      if (!asked) continue;
      asked.tookUs = Math.max(0, Math.round((at - asked.startUs) * 10) / 10);
      asked.bytes = one.sectors * SECTOR;
    }
  }
  if (requests.length === 0) throw new RangeError("no request in this trace");
  if (requests.length > MOST_REQUESTS)
    throw new RangeError(`more than ${MOST_REQUESTS} requests in one recording`);
  return foreignRecording("the kernel’s block trace", requests, numbers.names);
}

/** What a line tells; null for one of another kind. @throws RangeError for numbers beyond every drive */
function toldOf(line: string, number: number): Told | null {
  const found = LINE.exec(line);
  if (!found) return null;
  const [, device, time, action, letters, sector = "0", sectors = "0", program] = found;
  const told = {
    device: device!,
    us: Math.round(Number(time) * 1e7) / 10,
    action: action!,
    kind: kindOf(letters!, Number(sectors)),
    sector: Number(sector),
    sectors: Number(sectors),
    program: program!,
    flush: flushOf(letters!, Number(sectors)),
  };
  const isWithin = told.us <= MOST_MS * 1e3 && (told.sector + told.sectors) * SECTOR <= MOST_BYTES;
  if (!isWithin) throw new RangeError(`line ${number} is beyond every drive`);
  return told;
}

const requestOf = (
  { kind, sector, sectors, program, flush }: Told,
  us: number,
  numbers: ProgramNumbers,
): RecordedRequest => ({
  startUs: Math.round(us * 10) / 10,
  tookUs: null,
  kind,
  offset: kind === "flush" ? 0 : sector * SECTOR,
  bytes: kind === "flush" ? 0 : sectors * SECTOR,
  program: numbers.of(program),
  ...(flush ? { flush } : {}),
});

/** Letters of a request (blkparse(1), "RWBS description"): D discard, W write, R read, F flush, N none. */
function kindOf(letters: string, sectors: number): RequestKind {
  if (letters.includes("D")) return "discard";
  if (sectors === 0) return "flush";
  return letters.includes("W") ? "write" : "read";
}

/** What a write asks of the drive's cache: an F before its W, and one behind it. */
function flushOf(letters: string, sectors: number): FlushAround | undefined {
  const at = letters.indexOf("W");
  if (at < 0 || sectors === 0) return undefined;
  const [before, after] = [letters.slice(0, at).includes("F"), letters.slice(at).includes("F")];
  return before && after ? "both" : before ? "before" : after ? "after" : undefined;
}
