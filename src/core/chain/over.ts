import { holdsOver, type Claim, type JudgedClaim } from "./claim";
import { allLinks } from "./link";
import type { Part } from "./part";
import type { Rig } from "./rig";

/** Whether the link of a part in a rig is the one that a claim holds for. A rig without the part counts as such. */
export function runsOver(claim: Pick<JudgedClaim, "over">, part: Part, rig: Rig): boolean {
  if (claim.over === undefined) return true;
  const own = allLinks(rig).filter(({ upper, cables, lower }) =>
    (part.kind === "host-port" ? [upper] : [...cables, lower]).some(({ id }) => id === part.id),
  );
  return own.length === 0 || own.some(({ mode }) => holdsOver(claim, mode));
}

/** The claims of a part that are about a rig as it stands. */
export const claimsIn = (part: Part, rig: Rig): Claim[] =>
  part.claims.filter((claim) => claim.kind === "link" || runsOver(claim, part, rig));
