import type { Claim } from "../chain/claim";
import { sizeIn } from "../units/size";

/** A claim that a column of the table of parts says in full: printed for no certain link or requests. */
export const isPlain = (claim: Claim): boolean =>
  claim.kind === "link" ||
  [claim.over, claim.block, claim.depth].every((said) => said === undefined);

const kindOf = (claim: Claim) =>
  claim.kind === "link" ? claim.kind : `${claim.kind} ${claim.direction}`;

/** Whether no claim before it is of the same kind and direction: such a table has one column for each. */
export const isFirstOfKind = (claim: Claim, i: number, all: readonly Claim[]): boolean =>
  all.findIndex((one) => kindOf(one) === kindOf(claim)) === i;

/** A claim in one cell of a table: "peak read 900 over usb block 1048576 depth 8", "link 10". */
export function claimText(claim: Claim): string {
  if (claim.kind === "link") return `link ${claim.gbps}`;
  const { kind, direction, over, block, depth } = claim;
  const figure = kind === "iops" ? claim.iops : claim.mbps;
  const printed = Object.entries({ over, block, depth }).filter(([, said]) => said !== undefined);
  return [kind, direction, figure, ...printed.flat()].join(" ");
}

/** Reads such a text. What it says is not checked here: the result goes through the schema. */
export function claimFrom(text: string): unknown {
  const [kind, ...words] = text.trim().split(/\s+/);
  if (kind === "link") return { kind, gbps: Number(words[0]) };
  const [direction, figure, ...printed] = words;
  const said: Record<string, unknown> = {};
  for (let i = 0; i < printed.length; i += 2) said[printed[i]!] = printed[i + 1];
  const { over, block, depth } = said as Partial<Record<string, string>>;
  return {
    kind,
    direction,
    [kind === "iops" ? "iops" : "mbps"]: Number(figure),
    over,
    block: block && (sizeIn(block) ?? NaN),
    depth: depth && Number(depth),
  };
}
