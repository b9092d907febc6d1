import {
  drivenLink,
  linksOf,
  otherLinks,
  transportOn,
  usualTransport,
  type Link,
} from "../../chain/link";
import type { Part } from "../../chain/part";
import { fileSystemOf, type Rig } from "../../chain/rig";
import { TRANSPORT_NAMES } from "../../ledger/account";
import type { RunState } from "./run-state";

/** The conditions that a rig states and that may hold it back. */
export type ConditionName = "fileSystem" | "transport" | "host" | "bay" | RunState;

/** Where an explanation looks for what holds a rig back. */
export type At =
  | { part: string }
  | { between: readonly [string, string] }
  | { condition: ConditionName | "memory" }
  | { ledger: string }
  | null;

/** Something that a rig's flow passes and that may let less through than the ledger says. */
export interface Site {
  /** The same wherever it stands. */
  key: string;
  at: At;
  kind: "part" | "pairing" | ConditionName;
  /** The parts it is made of: one, two that meet, or none. */
  parts: readonly Part[];
  /** As said in a sentence. */
  name: string;
  /** Of a condition, whether it is what comes about by itself. */
  usual?: boolean;
}

/** Everything of a rig that may hold it back, each once: parts, how they meet, and conditions. */
export function sitesOf(rig: Rig): readonly Site[] {
  let known = sites.get(rig);
  if (!known) sites.set(rig, (known = makeSites(rig)));
  return known;
}

/** Worked out once for each rig. */
const sites = new WeakMap<Rig, Site[]>();

function makeSites(rig: Rig): Site[] {
  const links = [...linksOf(rig), ...otherLinks(rig)];
  // How several drives in a box share the flow is not known, so none of them is looked at by itself.
  const alone = rig.beside.length === 0;
  const parts = [...rig.parts, ...rig.other].filter(({ kind }) => kind !== "drive" || alone);
  const all = [
    ...parts.map(ofPart),
    ...links.filter(({ lower }) => lower.kind !== "drive" || alone).flatMap(pairings),
    ...conditions(rig),
  ];
  return [...new Map(all.map((site) => [site.key, site])).values()];
}

const ofPart = (part: Part): Site => ({
  key: `part ${part.id}`,
  at: { part: part.id },
  kind: "part",
  parts: [part],
  name: part.name,
});

/** Two neighbours with the cable between them, and each with its cable. */
function pairings({ upper, cables, lower }: Link): Site[] {
  const chain = [upper, ...cables, lower];
  const neighbours = chain.slice(1).map((part, i) => [chain[i]!, part] as const);
  return [...neighbours, ...(cables.length > 0 ? [[upper, lower] as const] : [])].map(pairing);
}

const pairing = ([upper, lower]: readonly [Part, Part]): Site => ({
  key: `pairing ${[upper.id, lower.id].toSorted().join(" + ")}`,
  at: { between: [upper.id, lower.id] },
  kind: "pairing",
  parts: [upper, lower],
  name: `${upper.name} with ${lower.name}`,
});

/** How many pairings are among the sites of a rig. */
export const pairingsIn = (all: readonly Site[]): number =>
  all.filter(({ kind }) => kind === "pairing").length;

function conditions(rig: Rig): Site[] {
  const protocol = protocolOf(rig);
  const of = (kind: ConditionName, value: string, name: string): Site[] =>
    value
      ? [
          {
            key: `${kind} ${value.toLowerCase()}`,
            at: { condition: kind },
            kind,
            parts: [],
            name,
          },
        ]
      : [];
  const box = rig.beside.length === 0 ? rig.parts.at(-2) : undefined;
  const bay =
    box && rig.bay ? of("bay", `${box.id} ${rig.bay}`, `bay ${rig.bay} of ${box.name}`) : [];
  return [
    ...bay,
    ...of("fileSystem", fileSystemOf(rig), `the file system ${fileSystemOf(rig)}`),
    ...of("transport", protocol?.name ?? "", `the driver mode, ${protocol?.name}`).map((site) => ({
      ...site,
      usual: protocol?.usual,
    })),
    ...of("host", rig.host, `the host ${rig.host}`),
  ];
}

/** The first command protocol of a rig that can be another: the driver's mode. */
function protocolOf(rig: Rig): { name: string; usual: boolean } | null {
  const free = drivenLink(rig);
  const id = free && transportOn(rig, free);
  return id ? { name: TRANSPORT_NAMES[id], usual: id === usualTransport(free) } : null;
}
