import type { JudgedClaim } from "../chain/claim";
import { keptModes } from "../chain/kept-modes";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { TransportId } from "../ledger/mode";
import type { Direction } from "../units/rate";

/** A rig that is to be put together: like one of the study, but for what is said here. */
export interface AskedRig {
  /** The id of the rig it is like. */
  like: string;
  /** Its chain from host to drive, by the ids of parts; left out where that stays. */
  parts?: readonly string[];
  transport?: TransportId | null;
  fileSystem?: string;
  host?: string;
  bay?: string;
}

/** What is to be measured of a rig, so that something is settled. */
export interface Ask {
  rig: AskedRig;
  drill: string;
  direction: Direction;
  /** Bytes of one request and how many in flight, where that matters; everything else as usual. */
  set?: Pick<JudgedClaim, "block" | "depth">;
}

/** The address of the page on which an asked rig is put together. */
export function askedRigPath(studyId: string, asked: AskedRig): string {
  const { like, parts, transport, fileSystem, host, bay } = asked;
  const query = new URLSearchParams({ like });
  for (const id of parts ?? []) query.append("part", id);
  if (transport !== undefined) query.set("transport", transport ?? "");
  if (fileSystem !== undefined) query.set("file-system", fileSystem);
  if (host !== undefined) query.set("host", host);
  if (bay) query.set("bay", bay);
  return `/studies/${studyId}/rigs?${query}`;
}

/**
 * The rig that an address asks for, without an id or a name of its own.
 *
 * @param query the address, by name
 * @param rigs of the study
 * @param shelf where its parts are found
 * @returns null where none is asked for, or the rig or a part of it is not there
 */
export function askedRig(
  query: Readonly<Record<string, string | string[] | undefined>>,
  rigs: readonly Rig[],
  shelf: readonly Part[],
): Rig | null {
  const like = rigs.find(({ id }) => id === query.like);
  if (!like) return null;
  const said = (name: string) => {
    const value = query[name];
    return typeof value === "string" ? value : undefined;
  };
  const transport = said("transport");
  return changedRig(
    {
      like: like.id,
      parts: query.part === undefined ? undefined : [query.part].flat(),
      transport:
        transport === undefined ? undefined : (TransportId.safeParse(transport).data ?? null),
      fileSystem: said("file-system"),
      host: said("host"),
      bay: said("bay"),
    },
    like,
    shelf,
  );
}

/**
 * The rig that is asked for, without an id or a name of its own.
 *
 * @param like the rig it is like
 * @param shelf where its parts are found
 * @returns null where a part of it is not there
 */
export function changedRig(
  { parts: ids, transport, fileSystem, host, bay }: AskedRig,
  like: Rig,
  shelf: readonly Part[],
): Rig | null {
  const known = [...shelf, ...like.parts];
  const parts = ids?.flatMap((id) => known.find((part) => part.id === id) ?? []) ?? like.parts;
  if (ids && parts.length < ids.length) return null;
  const made = keptModes({ ...like, parts }, like);
  return {
    ...made,
    bay: bay ?? made.bay,
    id: "",
    name: "",
    transport: transport === undefined ? like.transport : transport,
    fileSystem: fileSystem ?? like.fileSystem,
    host: host ?? like.host,
  };
}
