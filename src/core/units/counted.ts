import { formatNumber } from "./number";

/** A number of things in words: "1 rig", "14 rigs". @param many where it is not one with an s */
export const counted = (count: number, one: string, many = `${one}s`): string =>
  `${formatNumber(count)} ${count === 1 ? one : many}`;
