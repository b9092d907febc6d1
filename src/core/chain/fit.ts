import { linksOf } from "./link";
import type { Part } from "./part";

/** A place in a chain that is being put together: what stands before it, and what after. */
export interface Place {
  before: readonly Part[];
  after: readonly Part[];
  /** Whether parts before it are still to come. */
  open?: boolean;
}

/**
 * Why a part cannot stand in a place of a chain, in a few plain words; null where it can.
 *
 * Only what its own neighbours say counts: links elsewhere in the chain are not looked at.
 */
export function whyNot({ before, after, open = false }: Place, part: Part): string | null {
  const upper = before.at(-1);
  const lower = after[0];
  if ([...before, ...after].some(({ id }) => id === part.id)) return "stands in this chain already";
  if (!upper && !open && part.kind !== "host-port") return "a rig starts at a host port";
  if (upper && part.kind === "host-port") return "a rig has one host port, at its start";
  if (lower && part.kind === "drive") return "a chain ends at its drive";
  if (part.kind === "cable" && (upper?.kind === "cable" || lower?.kind === "cable")) {
    return "two cables need a part between them";
  }
  return linkTrouble({ before, after }, part);
}

/** Runs the links that the part would be on; an end that is still open is taken to be its own kind. */
function linkTrouble({ before, after }: Place, part: Part): string | null {
  const end = part.kind === "cable" && after.length === 0 ? [mirror(part)] : [];
  const parts = [...before, part, ...after, ...end];
  const trouble = linksOf({ parts }).find(
    ({ upper, cables, lower, problem }) => problem && [upper, ...cables, lower].includes(part),
  );
  return trouble ? trouble.problem!.replace(/^will not link: /, "") : null;
}

/** Something that takes whatever a cable carries, to see whether the cable itself fits. */
function mirror(cable: Part): Part {
  const modes = cable.connectors.flatMap((connector) => connector.modes);
  return {
    ...cable,
    id: "",
    name: "whatever follows",
    kind: "hub",
    connectors: [{ side: "up", modes }],
  };
}
