import { formatNumber, type RateWords } from "../units/number";
import { summarise } from "../stats/repeats";
import { Direction, DOING } from "../units/rate";
import { LARGE_BLOCK, mostOf, SMALL_BLOCK, type CheckedStep, type MachineCheck } from "./check";

/** Requests a second, as exactly as two repeats tell. */
const requestsOf = ({ iops }: CheckedStep): string =>
  formatNumber(Number(middle(iops).toPrecision(3)));

const middle = (values: readonly number[]): number => summarise(values).median;

/** "5 100 MB/s reading and 3 900 MB/s writing, and 310 000 and 280 000 small requests a second". */
export function checkWords(check: MachineCheck, { said }: RateWords): string {
  const of = (block: number) =>
    Direction.options.flatMap((direction) => {
      const step = mostOf(check, block, direction);
      return step ? [{ direction, step }] : [];
    });
  const large = of(LARGE_BLOCK).map(
    ({ direction, step }) => `${said(middle(step.mbps))} ${DOING[direction]}`,
  );
  const small = of(SMALL_BLOCK).map(({ step }) => requestsOf(step));
  return `${large.join(" and ")}, and ${small.join(" and ")} small requests a second`;
}

/** What the figures of a check are, and are not. */
export const CHECK_MEANING =
  "The check moves a file in the machine’s own memory: processor, system and Nerrit work, and no drive. The processor copies each block there, and none for a drive: large blocks of a drive may go faster.";

/** That a check was made with another kernel than runs now; null where that is not known or not so. */
export const staleWords = (
  { kernel }: Pick<MachineCheck, "kernel">,
  now: string | null,
): string | null =>
  now === null || now === kernel
    ? null
    : `The check was made with kernel ${kernel}, and kernel ${now} runs now: repeat the check.`;

/** A table by requests in flight. */
export const checkTable = (
  { steps }: MachineCheck,
  { rate, unit }: RateWords,
): { head: string[]; rows: string[][] } => {
  const keys = [...new Set(steps.map(({ block, depth }) => `${block} ${depth}`))];
  return {
    head: [
      "requests",
      `reading, ${unit}`,
      `writing, ${unit}`,
      "reading, a second",
      "writing, a second",
    ],
    rows: keys.map((key) => {
      const [block, depth] = key.split(" ").map(Number) as [number, number];
      const of = (direction: Direction) =>
        steps.find(
          (one) => one.block === block && one.depth === depth && one.direction === direction,
        );
      const cells = (value: (direction: Direction) => string) => Direction.options.map(value);
      return [
        `${block === LARGE_BLOCK ? "512 KiB" : "4 KiB"}, ${depth} in flight`,
        ...cells((way) => (of(way) ? rate(middle(of(way)!.mbps)) : "–")),
        ...cells((way) => (of(way) ? requestsOf(of(way)!) : "–")),
      ];
    }),
  };
};
