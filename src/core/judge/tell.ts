import { DOING } from "../units/rate";
import { list } from "../chain/wording";
import { counted } from "../units/counted";
import { formatPercent } from "../units/number";
import type { Judged } from "./judged";
import { scopeOf } from "./verdict";

/** Claims with one verdict, in a few words: "short: Till by 41 % and 42 %". */
export interface ClaimsTold {
  verdict: "delivered" | "in bursts only" | "short" | "open";
  text: string;
}

/** Parts that are named of one verdict. */
const NAMED = 3;

/** What all claims of a study are worth, by verdict; empty where nothing is claimed. */
export function claimsTold(judged: readonly Judged[]): ClaimsTold[] {
  const bursts = judged.filter(({ kind }) => kind === "Delivers in bursts only");
  const short = judged.filter(({ kind }) => scopeOf(kind) !== null);
  const open = judged.filter(({ kind }) => kind === "Can't tell yet").length;
  const kept = judged.filter(({ kind }) => kind === "Delivers").length;
  if (judged.length === 0) return [];
  const all = counted(judged.length, "claim");
  if (open === judged.length)
    return [
      { verdict: "open", text: judged.length === 1 ? "1 claim, still open" : `${all}, all open` },
    ];
  return [
    { verdict: "delivered", text: `${kept} of ${all} delivered` },
    ...(bursts.length > 0
      ? [{ verdict: "in bursts only" as const, text: `in bursts only: ${byPart(bursts)}` }]
      : []),
    ...(short.length > 0 ? [{ verdict: "short" as const, text: `short: ${byPart(short)}` }] : []),
    ...(open > 0 ? [{ verdict: "open" as const, text: `${open} open` }] : []),
  ];
}

/** All verdicts of a study in one sentence. */
export const tellVerdicts = (judged: readonly Judged[]): string =>
  `${claimsTold(judged)
    .map(({ text }) => text)
    .join("; ")}.`;

/** "Till by 41 % and 42 %, Cornice sustained writing by 35 %, and 2 others". */
function byPart(judged: readonly Judged[]): string {
  const parts = new Map<string, Judged[]>();
  for (const one of judged) parts.set(one.part.id, [...(parts.get(one.part.id) ?? []), one]);
  const names = [...parts.values()].map((claims) => {
    const [one] = claims as [Judged];
    const by = claims.flatMap(({ shortBy }) => (shortBy === null ? [] : formatPercent(shortBy)));
    const what = claims.length === 1 ? ` ${claimName(one)}` : "";
    return `${one.part.name}${what}${by.length > 0 ? ` by ${list([...new Set(by)])}` : ""}`;
  });
  const more = names.length - NAMED;
  return more > 0
    ? `${names.slice(0, NAMED).join(", ")} and ${counted(more, "other part")}`
    : names.join(", ");
}

/** "sustained writing", "peak reading", "link class". */
const claimName = ({ claim }: Judged): string =>
  claim.kind === "link"
    ? "link class"
    : `${claim.kind === "iops" ? "small requests" : claim.kind} ${DOING[claim.direction]}`;
