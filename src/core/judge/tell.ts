import { counted } from "../units/counted";
import type { Judged } from "./judged";
import { scopeOf } from "./verdict";

/** All verdicts of a study in one sentence. */
export function tellVerdicts(judged: readonly Judged[]): string {
  const of = (kind: Judged["kind"]) => judged.filter((one) => one.kind === kind);
  const names = (list: readonly Judged[]) => [...new Set(list.map(({ part }) => part.name))];
  const short = judged.filter((one) => scopeOf(one.kind) !== null);
  const bursts = of("Delivers in bursts only");
  const open = of("Can't tell yet").length;
  const kept = of("Delivers").length;
  const listed = (list: readonly Judged[]) =>
    names(list).slice(0, 3).join(", ") + (names(list).length > 3 ? " and others" : "");
  const told = [
    ...(kept > 0 ? [`${kept} ${kept === 1 ? "is" : "are"} delivered`] : []),
    ...(bursts.length > 0 ? [`${bursts.length} in bursts only (${listed(bursts)})`] : []),
    ...(short.length > 0
      ? [`${short.length} ${short.length === 1 ? "falls" : "fall"} short (${listed(short)})`]
      : []),
    ...(open > 0 ? [`${open} can’t be told yet`] : []),
  ];
  return `Of ${counted(judged.length, "claim")}, ${told.join(", ")}.`;
}
