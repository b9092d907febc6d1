import path from "node:path";
import * as z from "zod";
import { findDrill } from "@/core/drills/catalogue";
import { defineFrom, kindOf, programOf, type Drill } from "@/core/drills/drill";
import { worksOf } from "@/core/drills/kinds/encore";
import type { KnownCache, TargetFacts } from "@/core/drills/parameter";
import { hostsOf } from "@/core/joint/parts";
import type { Step } from "@/core/run/program";
import type { MeasureRequest } from "@/core/drills/request";
import { placeFrom, placeOnAnyHost, placeText, type Place } from "@/core/units/place";
import type { Store } from "@/store/database";
import { cacheOf } from "./cache";
import { thisMachine, type Machines } from "../hosts/machines";
import { checked, checkedBy, Problem } from "../problem";
import { findRig } from "../studies/studies";

/** A drill, made ready to be done: its definition, its steps and where they go. */
export interface Order {
  drill: Drill;
  places: Place[];
  program: Step[];
}

/**
 * Completes what a tester asks for.
 *
 * @param cache what is known of the drive's write cache, where the request states nothing
 * @param look finds out what is known of a place
 * @throws Problem that names what makes no sense
 */
export async function orderFor(
  request: MeasureRequest,
  cache: KnownCache | null,
  look: LookAt = factsAt(thisMachine()),
): Promise<Order> {
  const {
    rigId: _rig,
    target,
    other,
    more,
    drill: name,
    io: _io,
    cache: statedCache,
    ...rest
  } = request;
  const {
    reserve,
    besideOwnData: _beside,
    stated: _stated,
    title,
    direction,
    repeats,
    ...set
  } = rest;
  const known: KnownCache | null =
    statedCache === null ? cache : { bytes: statedCache, from: "stated" };
  const facts = await look(target, reserve, known);
  const kind = findDrill(name);
  const drill = checkedBy(() =>
    defineFrom(
      {
        ...set,
        name,
        direction: direction ?? kind?.usualDirection ?? kind?.directions[0] ?? "read",
        ...(title === undefined ? {} : { title }),
        ...(repeats === undefined ? {} : { repeats }),
      },
      facts,
    ),
  );
  if (kindOf(drill).recorded && worksOf(drill).length === 0) throw noWork();
  const places = placesOf(drill, target, other, more);
  return { drill, places, program: programOf(drill, places.length) };
}

/** Finds out what is known of a place. @param reserve bytes to leave free; null for the usual */
export type LookAt = (
  target: string,
  reserve: number | null,
  cache: KnownCache | null,
) => Promise<TargetFacts | null>;

/** Asks the machine that a place is on. */
export const factsAt =
  (machines: Machines): LookAt =>
  async (target, reserve, cache) => {
    const { host, path: place } = placeFrom(target);
    const question = {
      ask: "target" as const,
      target: path.posix.normalize(place),
      reserve,
      cache,
    };
    return (await machines.ask(host, question)).facts;
  };

function placesOf(drill: Drill, target: string, other: string | null, more: string[]): Place[] {
  const kind = kindOf(drill);
  const refuse = (field: string, message: string) => {
    throw new Problem(422, `${field}: ${message}`, [{ path: field, message }]);
  };
  if (more.length > 0 && kind.targets === "one")
    refuse("more", `${kind.title} is done on one drive`);
  if (other !== null && !kind.source) refuse("other", `${kind.title} has no other end`);
  const all = [target, ...more, ...(other === null ? [] : [other])].map((text) => {
    const { host, path: place } = placeFrom(text);
    return { host, path: path.resolve(/* turbopackIgnore: true */ place) };
  });
  if (kind.targets !== "several" && hostsOf(all).length > 1)
    refuse("other", "is on another machine: a copy goes on one machine");
  if (kind.targets === "several") {
    if (all.length < 2) refuse("more", `${kind.title} needs at least two drives`);
    if (new Set(all.map(placeText)).size < all.length) refuse("more", "names the same place twice");
  }
  return all;
}

const TargetQuery = z.object({
  path: placeOnAnyHost("name the directory on the drive, or the block device"),
  reserve: z.coerce.number().int().nonnegative().nullable().default(null),
  /** The rig it belongs to, whose drive's write cache may be known. */
  rig: z.string().optional(),
});

/**
 * What is known of a place before anything is measured there.
 *
 * @returns null where there is no such directory or device
 */
export async function lookAtTarget(
  store: Store,
  query: URLSearchParams,
  machines: Machines = thisMachine(),
): Promise<TargetFacts | null> {
  const { path: place, reserve, rig } = checked(TargetQuery, Object.fromEntries(query));
  const cache = rig ? cacheOf(store, findRig(store, rig).rig) : null;
  return factsAt(machines)(place, reserve, cache);
}

/** Nothing was said of what a drill is to do again. */
export function noWork(): Problem {
  const message = "choose the work that is to be done again";
  return new Problem(422, `recordings: ${message}`, [{ path: "recordings", message }]);
}
