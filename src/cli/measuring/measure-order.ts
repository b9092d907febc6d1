import path from "node:path";
import { hostsOf } from "@/core/joint/parts";
import { drillNamed } from "@/core/drills/catalogue";
import type { DrillKind } from "@/core/drills/kind";
import { MeasureRequest } from "@/core/drills/request";
import { placeFrom } from "@/core/units/place";
import { parseSize } from "@/core/units/size";
import { thisMachine } from "@/services/hosts/machines";
import type { ReadyHost } from "@/services/hosts/ready";
import { factsAt, orderFor, type LookAt, type Order } from "@/services/measuring/order";
import { isProblem } from "@/services/problem";
import { Failure, Usage } from "../exit";
import { factsOn, placedOn, readyOn } from "../on-host";
import { settingsFrom } from "./drill-options";
import { recordingsOf } from "./recordings-option";

/** What `nerrit measure` was told. */
export interface Options extends Record<string, unknown> {
  target: string[];
  from?: string;
  to?: string;
  drill: string;
  direction?: string;
  repeats?: string;
  reserve?: string;
  cache?: string;
  recording?: string[];
  buffered?: boolean;
  on?: string;
  farHost?: string;
  rig?: string;
  out?: string;
  progress?: boolean;
  json?: boolean;
}

const sizeOption = (name: string, text: string | undefined): number | null => {
  if (text === undefined) return null;
  try {
    return parseSize(text);
  } catch (error) {
    throw new Usage(`--${name}: ${(error as Error).message}`);
  }
};

/** Where a drill goes: its target, what else it needs, and which way a copy is seen. */
function placesOf(kind: DrillKind, { target, from, to, direction }: Options) {
  if (!kind.source) {
    if (from !== undefined || to !== undefined) {
      throw new Usage("--from and --to are of a ferry; name the drive with --target");
    }
    const [first, ...more] = target;
    if (first === undefined) throw new Usage("required option '--target <path>' not specified");
    return { target: first, more, other: null, direction };
  }
  const [named, ...rest] = target;
  if (rest.length > 0) throw new Usage(`${kind.name} takes one --target, or --from and --to`);
  // What is only read is measured reading; a copy is measured at the end that it goes to, unless
  // reading is asked for.
  const only = to === undefined && named === undefined;
  const way = direction ?? (only ? "read" : kind.usualDirection);
  const [here, other] = way === "read" ? [from ?? named, to] : [to ?? named, from];
  if (here === undefined) {
    throw new Usage("name what to copy with --from, where to with --to, or both");
  }
  return { target: here, more: [], other: other ?? null, direction: way };
}

/** What is to be measured, and how. */
export interface Asked {
  order: Order;
  request: MeasureRequest;
  recordings: Record<string, string>;
  /** The hosts that it is done on beside this machine, by their names. */
  ready: ReadonlyMap<string, ReadyHost>;
}

/** Makes an order of what was told. @throws Usage that names what makes no sense; Failure where a host cannot be used */
export async function orderOf(given: Options): Promise<Asked> {
  const options = placedOn(given, given.on);
  const kind = drillNamed(options.drill);
  const { works, files } = recordingsOf(kind, options.recording);
  const { target, more, other, direction } = placesOf(kind, options);
  if (kind.directions.length > 1 && !kind.usualDirection && direction === undefined) {
    throw new Usage(`--direction must be said: ${kind.directions.join(" or ")}`);
  }
  if (direction !== undefined && !kind.directions.some((way) => way === direction)) {
    throw new Usage(`--direction: ${kind.name} goes ${kind.directions.join(" or ")} only`);
  }
  const repeats = Number(options.repeats);
  if (!Number.isFinite(repeats)) throw new Usage(`--repeats: "${options.repeats}" is not a number`);
  const parsed = MeasureRequest.safeParse({
    ...settingsFrom(kind, options),
    ...(works ? { recordings: works } : {}),
    rigId: "",
    target: whole(target),
    other: other === null ? null : whole(other),
    more: more.map(whole),
    drill: kind.name,
    ...(direction === undefined ? {} : { direction }),
    repeats,
    io: options.buffered ? "buffered" : "direct",
    reserve: sizeOption("reserve", options.reserve),
    cache: sizeOption("cache", options.cache),
  });
  if (!parsed.success) {
    const [issue] = parsed.error.issues;
    throw new Usage(`--${issue!.path.join(".")} ${issue!.message}`);
  }
  const { data } = parsed;
  const ready = await readied([data.target, ...data.more, ...(data.other ? [data.other] : [])]);
  try {
    const order = await orderFor(data, null, factsBy(ready));
    return { order, request: data, recordings: files, ready };
  } catch (error) {
    if (error instanceof Failure) throw error;
    const { message } = error as Error;
    throw isProblem(error) && error.code !== null ? new Failure(message) : new Usage(message);
  }
}

/** A place from the root on, on whatever machine. */
const whole = (place: string): string =>
  placeFrom(place).host === null ? path.resolve(place) : place;

/** The hosts of places, with the measuring process on each. */
async function readied(places: readonly string[]): Promise<Map<string, ReadyHost>> {
  const ready = new Map<string, ReadyHost>();
  for (const host of hostsOf(places.map(placeFrom)))
    if (host !== null) ready.set(host, await readyOn(host));
  return ready;
}

/** Asks the machine of a place what is known of it. */
const factsBy =
  (ready: ReadonlyMap<string, ReadyHost>): LookAt =>
  (target, ...more) => {
    const { host, path: place } = placeFrom(target);
    if (host === null) return factsAt(thisMachine())(target, ...more);
    return factsOn(ready.get(host)!, place, ...more);
  };
