import { z } from "zod";
import { TransportId } from "../ledger/mode";
import type { Part } from "./part";

/** A rig as entered: the parts in order from host to drive, and how the system drives it. */
export const RigDraft = z.object({
  name: z.string().trim().min(1, "give the rig a name").max(80, "at most 80 characters"),
  partIds: z.array(z.string()).min(2, "a rig needs at least a host port and a drive").max(12),
  /** Command protocol on the host's link; null takes the usual one for that link. */
  transport: TransportId.nullable().default(null),
  fileSystem: z.string().trim().max(40).default(""),
});
export type RigDraft = z.infer<typeof RigDraft>;

/** A rig with its parts at hand: what every calculation on a chain starts from. */
export interface Rig {
  id: string;
  name: string;
  parts: Part[];
  transport: TransportId | null;
  fileSystem: string;
}

/**
 * What keeps a list of parts from being a rig, in plain words; empty when nothing does.
 *
 * A rig runs from one host port to one drive, through cables, hubs, adapters and enclosures; a
 * cable must have a part at both ends; no part can stand in it twice.
 */
export function rigProblems(parts: readonly Part[]): string[] {
  const problems: string[] = [];
  if (parts.length === 0) return ["A rig needs parts: start with a host port."];
  if (parts[0]!.kind !== "host-port") {
    problems.push(`A rig starts at a host port, not at ${parts[0]!.name}.`);
  }
  if (parts.at(-1)!.kind !== "drive") {
    problems.push(`A rig ends at a drive, not at ${parts.at(-1)!.name}.`);
  }
  parts.forEach((part, i) => {
    const inner = i > 0 && i < parts.length - 1;
    if (inner && (part.kind === "host-port" || part.kind === "drive")) {
      problems.push(`${part.name} cannot stand in the middle of a rig.`);
    }
    if (part.kind === "cable" && parts[i + 1]?.kind === "cable") {
      problems.push(
        `${part.name} and ${parts[i + 1]!.name} are two cables with nothing between them.`,
      );
    }
    if (parts.findIndex(({ id }) => id === part.id) !== i) {
      problems.push(`${part.name} stands in the rig twice.`);
    }
  });
  return problems;
}
