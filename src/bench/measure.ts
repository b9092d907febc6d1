import path from "node:path";
import { z } from "zod";
import type { Rig } from "@/core/chain/rig";
import { findDrill } from "@/core/drills/catalogue";
import { defineFrom, kindOf, programOf, type Drill } from "@/core/drills/drill";
import type { TargetFacts } from "@/core/drills/parameter";
import type { Step } from "@/core/drills/program";
import { MeasureRequest } from "@/core/drills/request";
import { linkProblems } from "@/core/locate/narrows";
import { absolutePath } from "@/core/units/text";
import { targetFacts } from "@/engine/facts";
import type { Bench } from "./bench";
import { checked, checkedBy, Problem } from "./problem";
import { findRig } from "./studies";

/** A drill, made ready to be done: its definition, its steps and where they go. */
export interface Order {
  drill: Drill;
  targets: string[];
  program: Step[];
}

/**
 * Completes what a tester asks for.
 *
 * @param cache the drive's write cache as stated, bytes; null where it is not
 * @throws Problem that names what makes no sense
 */
export async function orderFor(request: MeasureRequest, cache: number | null): Promise<Order> {
  const {
    rigId: _rig,
    target,
    other,
    more,
    drill: name,
    io: _io,
    cache: stated,
    ...rest
  } = request;
  const { reserve, besideOwnData: _beside, title, direction, repeats, ...set } = rest;
  const facts = await targetFacts(target, reserve, stated ?? cache);
  const kind = findDrill(name);
  const drill = checkedBy(() =>
    defineFrom(
      {
        ...set,
        name,
        direction: direction ?? kind?.directions[0] ?? "read",
        ...(title === undefined ? {} : { title }),
        ...(repeats === undefined ? {} : { repeats }),
      },
      facts,
    ),
  );
  const targets = targetsOf(drill, target, other, more);
  return { drill, targets, program: programOf(drill, targets.length) };
}

function targetsOf(drill: Drill, target: string, other: string | null, more: string[]): string[] {
  const kind = kindOf(drill);
  const refuse = (field: string, message: string) => {
    throw new Problem(422, `${field}: ${message}`, [{ path: field, message }]);
  };
  if (more.length > 0 && kind.targets === "one")
    refuse("more", `${kind.title} is done on one drive`);
  if (other !== null && !kind.source) refuse("other", `${kind.title} has no other end`);
  const all = [target, ...more, ...(other === null ? [] : [other])].map((place) =>
    path.resolve(place),
  );
  if (kind.targets === "several") {
    if (all.length < 2) refuse("more", `${kind.title} needs at least two drives`);
    if (new Set(all).size < all.length) refuse("more", "names the same place twice");
  }
  return all;
}

const TargetQuery = z.object({
  path: absolutePath("name the directory on the drive, or the block device"),
  reserve: z.coerce.number().int().nonnegative().nullable().default(null),
});

/**
 * What is known of a place before anything is measured there.
 *
 * @returns null where there is no such directory or device
 */
export async function lookAtTarget(query: URLSearchParams): Promise<TargetFacts | null> {
  const { path: place, reserve } = checked(TargetQuery, Object.fromEntries(query));
  return targetFacts(path.resolve(place), reserve);
}

/**
 * Begins a measurement of a rig.
 *
 * @returns its id, once the measuring process has accepted it
 * @throws Problem where the input, the rig or the target will not do
 */
export async function beginMeasurement(
  { store, desk }: Bench,
  rigId: string,
  input: unknown,
): Promise<string> {
  const request = checked(MeasureRequest, { ...(input as object), rigId });
  const { studyId, rig } = findRig(store, rigId);
  const order = await orderFor(request, cacheOf(rig));
  const [problem] = linkProblems(rig);
  if (problem) throw new Problem(422, `${rig.name} ${problem}.`);
  return desk.begin(studyId, rig, order, request);
}

/** The write cache of a rig's drive, as stated on the shelf. */
export const cacheOf = (rig: Rig): number | null => rig.parts.at(-1)?.cacheBytes ?? null;
