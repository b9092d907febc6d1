import { HostName } from "@/core/units/host-name";
import { placeFrom, placeText, type Place } from "@/core/units/place";
import type { KnownCache, TargetFacts } from "@/core/drills/parameter";
import type { SeenDrive } from "@/core/system/drive";
import type { SystemReport } from "@/core/system/system-report";
import type { Touch } from "@/core/run/touch";
import { askOn } from "@/services/hosts/ask-on";
import { readyHost, type ReadyHost } from "@/services/hosts/ready";
import { HostProblem } from "@/services/hosts/trouble";
import { Failure, Usage } from "./exit";

/** What the option does, for the help. */
export const ON = "do it on another host, reached with ssh and your own configuration";

/** Places that a command was given, and the host that they are on. */
interface Placed {
  target: string[];
  from?: string;
  to?: string;
}

/** A host's name as it was typed. @throws Usage for what could be anything else */
export function hostNamed(text: string): string {
  const name = HostName.safeParse(text);
  if (name.success) return name.data;
  throw new Usage(`"${text}" ${name.error.issues[0]!.message}`);
}

/** One place, and the host that it is on, by `--on lab2` or as part of the place. @throws Usage */
export function placeOn(text: string, on?: string): Place {
  const found = placeFrom(text);
  const host = found.host ?? (on === undefined ? null : hostNamed(on));
  if (found.host !== null && on !== undefined && found.host !== on)
    throw new Usage(`--on says ${on}, but ${text} is on ${found.host}`);
  if (host !== null && !found.path.startsWith("/"))
    throw new Usage(`${text}: a place on ${host} is told from the root on, as /media/drive`);
  return { host, path: found.path };
}

/** Places behind the names of their hosts, with `--on lab2` too: "lab2:/media/drive". @throws Usage */
export function placedOn<T extends Placed>(options: T, on?: string): T {
  if (on !== undefined) hostNamed(on);
  const placed = (text: string) => placeText(placeOn(text, on));
  return {
    ...options,
    target: options.target.map(placed),
    ...(options.from === undefined ? {} : { from: placed(options.from) }),
    ...(options.to === undefined ? {} : { to: placed(options.to) }),
  };
}

/** A host with the measuring process on it. @throws Failure that says what is missing */
export const readyOn = (host: string): Promise<ReadyHost> =>
  failing(() => readyHost(host, import.meta.dirname));

/** What is known of a place on a host. @throws Failure where it does not answer */
export async function factsOn(
  ready: ReadyHost,
  target: string,
  reserve: number | null,
  cache: KnownCache | null,
): Promise<TargetFacts | null> {
  const answer = await failing(() => askOn(ready, { ask: "target", target, reserve, cache }));
  if (answer.answer === "refused") throw new Failure(`${ready.host}: ${answer.reason}`);
  return answer.answer === "target" ? answer.facts : null;
}

/** What is plugged in there. */
export async function drivesOn(ready: ReadyHost): Promise<SeenDrive[]> {
  const answer = await failing(() => askOn(ready, { ask: "drives" }));
  if (answer.answer === "refused") throw new Failure(`${ready.host}: ${answer.reason}`);
  return answer.answer === "drives" ? answer.drives : [];
}

/** The way to a directory or device there. @throws Failure where it does not answer */
export async function systemOn(ready: ReadyHost, place: string): Promise<SystemReport> {
  const answer = await failing(() => askOn(ready, { ask: "system", path: place }));
  if (answer.answer === "system") return answer.report;
  throw new Failure(answer.answer === "refused" ? `${ready.host}: ${answer.reason}` : "No answer.");
}

/** Whether a host is in touch, as a line for standard error. */
export function touchText({ host, outSince, reason }: Touch): string {
  if (outSince === null) return `In touch with ${host} again; nothing was lost.`;
  const since = new Date(outSince).toTimeString().slice(0, 8);
  return `Out of touch with ${host} since ${since}; the run there goes on. ${reason ?? ""}`.trim();
}

/** @throws Failure where a host cannot be used */
export async function failing<T>(work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw error instanceof HostProblem ? new Failure(error.message) : error;
  }
}
