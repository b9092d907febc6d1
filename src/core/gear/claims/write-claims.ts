import type { Claim } from "../../chain/claim";
import { findMode } from "../../ledger/catalogue";
import { FAMILY_NAMES } from "../../ledger/families";
import type { FamilyId } from "../../ledger/mode";
import { isUnclear } from "./figures";
import { linksMeant } from "./over";

/**
 * Writes claims as one line that reads back as the same claims: "peak read 2800 MB/s, 10 Gb/s". Where the
 * ways of one claim follow each other they share an item: "2800/2400 MB/s".
 *
 * @param modes ids of what the part's own link runs
 */
export function writeClaims(claims: readonly Claim[], modes: readonly string[]): string {
  const items: string[] = [];
  for (let i = 0; i < claims.length; i++) {
    const claim = claims[i]!;
    const next = claims[i + 1];
    if (claim.kind !== "link" && claim.direction === "read" && next && isOtherWay(claim, next)) {
      items.push(itemText(claim, `${figureText(claim)}/${figureText(next)}`, "", modes));
      i += 1;
    } else if (claim.kind === "link") items.push(`${figureText(claim)} Gb/s`);
    else items.push(itemText(claim, figureText(claim), `${claim.direction} `, modes));
  }
  return items.join(", ");
}

function figureText(claim: Claim): string {
  const value =
    claim.kind === "link" ? claim.gbps : claim.kind === "iops" ? claim.iops : claim.mbps;
  // One decimal more, where three could be taken for thousands.
  return isUnclear(String(value)) ? `${value}0` : String(value);
}

/** Whether two claims are one, printed for both ways. */
function isOtherWay(claim: Claim, next: Claim): boolean {
  if (claim.kind === "link" || next.kind !== claim.kind || next.direction !== "write") return false;
  return claim.over === next.over && claim.block === next.block && claim.depth === next.depth;
}

function itemText(
  claim: Exclude<Claim, { kind: "link" }>,
  figures: string,
  direction: string,
  modes: readonly string[],
) {
  const { kind, over, block, depth } = claim;
  return [
    `${kind === "sustained" ? "sustained " : ""}${direction}${figures} ${kind === "iops" ? "IOPS" : "MB/s"}`,
    ...(block === undefined ? [] : [`${block / 1024} KiB`]),
    ...(depth === undefined ? [] : [`${depth} in flight`]),
    ...(over === undefined ? [] : [`over ${linkText(over, modes)}`]),
  ].join(" ");
}

/** The name of a link that is understood again: its short one where no other has that. */
function linkText(over: string, modes: readonly string[]): string {
  const short = findMode(over)?.short ?? FAMILY_NAMES[over as FamilyId];
  const meant = linksMeant(short, modes);
  return short && meant.length === 1 && meant[0] === over ? short : `exactly ${over}`;
}
