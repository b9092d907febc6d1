import os from "node:os";
import * as z from "zod";
import { PartDraft, type Part, type PartInput } from "@/core/chain/part";
import { BARE_RIG, RigDraft, type Rig } from "@/core/chain/rig";
import { drivesOnHost } from "@/core/host/drives";
import { findMode } from "@/core/ledger/catalogue";
import { asDetected } from "@/core/system/detected";
import type { SeenDrive } from "@/core/system/drive";
import { fillRig } from "@/core/system/fill";
import type { SystemReport } from "@/core/system/system-report";
import { placeFrom } from "@/core/units/place";
import { hostNames } from "@/store/hosts";
import { getParts } from "@/store/parts";
import type { Store } from "@/store/database";
import { thisMachine, type Machines } from "../hosts/machines";
import { servedBy } from "../hosts/served-by";
import { checked, Problem } from "../problem";
import { addPart, shelfFor } from "../shelf/shelf";
import { addRig, changeRig, findRig, sameRig } from "../studies/studies";
import { askSystem } from "./system";

/** The drives that a machine has now. @param host null for this machine */
export async function drivesNow(
  machines: Machines = thisMachine(),
  host: string | null = null,
): Promise<SeenDrive[]> {
  const { drives } = await machines.ask(host, { ask: "drives" });
  return host === null ? drives : drivesOnHost(host, drives);
}

const PluggedRequest = z.object({
  /** The link it hangs on, where the system does not say. */
  mode: z
    .string()
    .refine((id) => findMode(id) !== null, "is not a link mode that Nerrit knows")
    .nullable()
    .default(null),
  /** Cables that the tester names, each before a place of the chain: of the shelf, or new. */
  cables: z
    .array(
      z.object({
        before: z.number().int().min(1).max(11),
        part: z.union([z.object({ id: z.string() }), z.object({ draft: PartDraft })]),
      }),
    )
    .max(11, "at most eleven cables")
    .default([]),
});

/** What stands in a rig that is being made: an item of the shelf, or one to be put there. */
type Piece = { part: Part } | { draft: PartInput };

/**
 * Makes a rig of a drive that is plugged in, with every part of it that is not on the shelf yet: all of
 * it, or nothing where something is wrong.
 *
 * @returns the rig's id, and how many parts are new
 * @throws Problem where there is no such drive, or no rig can be made of it
 */
export async function rigOfPlugged(
  store: Store,
  studyId: string,
  input: unknown,
  machines: Machines = thisMachine(),
): Promise<{ id: string; made: number }> {
  const request = checked(PluggedRequest, input);
  const report = await askSystem(input, machines);
  const parts = shelfFor(store, studyId);
  const filled = fillRig(report, parts);
  const places: Piece[] = filled
    ? filled.chain.map(({ part, draft }) => (part ? { part } : { draft }))
    : unlinked(report, request.mode);
  const beside: Piece[] = (filled?.beside ?? []).map(({ part, draft }) =>
    part ? { part } : { draft },
  );
  const known = getParts(
    store,
    request.cables.flatMap(({ part }) => ("id" in part ? part.id : [])),
  );
  const chain = places.flatMap((piece, i): Piece[] => [
    ...request.cables
      .filter(({ before }) => before === i)
      .map(({ part }): Piece => {
        if ("draft" in part) return part;
        const cable = known.get(part.id);
        if (!cable) throw new Problem(422, "That cable is not on the shelf any more.");
        return { part: cable };
      }),
    piece,
  ]);

  const farHost = await servedBy(report, hostNames(store));

  return store.transaction(() => {
    let made = 0;
    const take = (piece: Piece): Part => {
      if ("part" in piece) return piece.part;
      made += 1;
      return { ...PartDraft.parse(piece.draft), id: addPart(store, piece.draft) };
    };
    const rig: Rig = {
      ...BARE_RIG,
      id: "",
      name: "",
      host: (placeFrom(report.path).host ?? ownName(store)).slice(0, 80),
      farHost,
      parts: chain.map(take),
      beside: beside.map(take),
      layout: filled?.layout ?? "apart",
      layoutBy: filled?.layoutBy ?? "box",
    };
    const { id: _, parts: whole, beside: others, other: _other, ...rest } = asDetected(rig, report);
    const ids = (list: readonly Part[]) => list.map((part) => part.id);
    const { host } = placeFrom(report.path);
    const asked = RigDraft.parse({
      ...rest,
      name: [...(host === null ? [] : [host]), ...whole.map(({ name }) => name)]
        .join(" · ")
        .slice(0, 80),
      fileSystem: rest.fileSystem.slice(0, 40),
      mountedAs: rest.mountedAs.slice(0, 40),
      partIds: ids(whole),
      besideIds: ids(others),
    });
    // The same drive in the same place is the rig that there is.
    const id = sameRig(store, studyId, asked)?.id ?? addRig(store, studyId, asked);
    return { id, made };
  });
}

/** On a bench of several machines a rig says that it hangs on this one. */
const ownName = (store: Store): string => (hostNames(store).length > 0 ? os.hostname() : "");

/**
 * Takes a rig's links, driver and file system as the system says that they are at a path.
 *
 * @throws Problem where there is no such rig or place
 */
export async function takeAsSeen(
  store: Store,
  rigId: string,
  input: unknown,
  machines: Machines = thisMachine(),
): Promise<void> {
  const report = await askSystem(input, machines);
  const { rig } = findRig(store, rigId);
  const { id: _, parts, beside, other, ...rest } = asDetected(rig, report);
  const ids = (list: readonly Part[]) => list.map((part) => part.id);
  changeRig(store, rigId, {
    ...rest,
    farHost: rest.farHost || (await servedBy(report, hostNames(store))),
    partIds: ids(parts),
    besideIds: ids(beside),
    otherIds: ids(other),
  });
}

/** A socket and a drive, where the system sees the drive and says nothing of its link. */
function unlinked({ blocks, path: target }: SystemReport, mode: string | null): Piece[] {
  if (blocks.length === 0) {
    throw new Problem(422, `The system sees no drive below ${target} that a rig could be made of.`);
  }
  if (mode === null) {
    const message = "the system does not say how the drive is linked: name the link";
    throw new Problem(422, `mode: ${message}`, [{ path: "mode", message }]);
  }
  const { name, bytes } = blocks[0]!;
  const { host } = placeFrom(target);
  const notes = "Entered from the system’s list of drives; its link is as the tester said.";
  return [
    {
      draft: {
        kind: "host-port",
        name: host === null ? `socket of ${name}` : `socket of ${name} of ${host}`,
        notes,
        connectors: [{ side: "down", modes: [mode] }],
      },
    },
    {
      draft: {
        kind: "drive",
        name,
        notes,
        capacityBytes: bytes,
        connectors: [{ side: "up", modes: [mode] }],
      },
    },
  ];
}
