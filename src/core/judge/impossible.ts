import { holdsOver, overName, requestOf, type Claim, type JudgedClaim } from "../chain/claim";
import { bestMode } from "../chain/link";
import { connectorsOn, type Part } from "../chain/part";
import { account } from "../ledger/account";
import { modeOf } from "../ledger/catalogue";
import type { LinkMode } from "../ledger/mode";
import { formatNumber, IN_MB } from "../units/number";
import { formatSize } from "../units/size";
import { gigabits, isOfClass } from "./class";

/** Says so where a part's own fastest plug towards the host cannot carry what is printed on it. */
export function impossibleClaim(
  part: Pick<Part, "connectors" | "kind">,
  claim: Claim | JudgedClaim,
  rates = IN_MB,
): string[] {
  const side = part.kind === "host-port" ? "down" : "up";
  const all = connectorsOn(part, side).flatMap((connector) => connector.modes.map(modeOf));
  if (all.length === 0) return [];
  if (claim.kind === "link") return impossibleClass(all, claim.gbps);
  const modes = all.filter((mode) => holdsOver(claim, mode));
  if (modes.length === 0)
    return [`The claim is for ${overName(claim.over!)}, which the part does not have.`];
  const most = Math.max(...modes.map((mode) => account(mode, claim.direction).hardCeiling));
  const mbps = "mbps" in claim ? claim.mbps : (claim.iops * requestOf(claim)) / 1e6;
  if (mbps <= most) return [];
  const what =
    claim.kind === "iops"
      ? `${formatNumber((mbps * 1e6) / requestOf(claim))} requests of ${formatSize(requestOf(claim))} a second (${rates.said(mbps)})`
      : rates.said(mbps);
  return [
    `The claim of ${what} is more than its own link can carry (${rates.said(most)} at most).`,
  ];
}

function impossibleClass(modes: readonly LinkMode[], gbps: number): string[] {
  if (modes.some((mode) => isOfClass(mode, gbps))) return [];
  const most = Math.max(...modes.map(gigabits));
  const best = bestMode(modes.map(({ id }) => id))!;
  return [
    `The link class of ${formatNumber(gbps)} Gb/s is more than its fastest mode signals (${best.name}: ${formatNumber(most)} Gb/s).`,
  ];
}
