import { worstOf } from "../demand/check";
import { capital } from "../chain/wording";
import { rigsCalled } from "../answer/figures";
import { formatNumber } from "../units/number";
import type { Cost } from "./practice";
import type { ShownRow } from "./shown";

type Bought = Pick<ShownRow, "letter" | "cost" | "demands">;

/** A sum of money: "84 EUR". */
export const moneyWords = (amount: number, currency: string): string =>
  `${formatNumber(amount, Math.abs(amount) < 100 && !Number.isInteger(amount) ? 2 : 0)} ${currency}`;

/**
 * Which rig to buy: the cheapest of those that meet every demand.
 *
 * @returns null where the study has no demand
 */
export function tellBuying(rows: readonly Bought[]): string | null {
  const asked = rows.filter(({ demands }) => demands.length > 0);
  if (asked.length === 0) return null;
  const fits = (row: Bought) =>
    row.demands.map(({ checks }) => worstOf(checks)?.fit ?? "can't tell");
  const every = asked[0]!.demands.length === 1 ? "the demand" : "every demand";
  const meeting = asked.filter((row) => fits(row).every((fit) => fit === "met"));
  const open = asked.filter(
    (row) =>
      !meeting.includes(row) && fits(row).every((fit) => fit !== "missed" && fit !== "cannot meet"),
  );
  const also =
    open.length === 0 ? "" : ` Open for ${rigsCalled(open)}: a long run there would tell.`;
  if (meeting.length === 0)
    return open.length === 0
      ? `No rig here meets ${every}.`
      : `No rig is known to meet ${every}.${also}`;
  const priced = meeting
    .filter(({ cost }) => cost && cost.unpriced === 0)
    .toSorted((a, b) => a.cost!.amount - b.cost!.amount);
  const currencies = new Set(priced.map(({ cost }) => cost!.currency));
  const [cheapest] = priced;
  if (!cheapest || currencies.size > 1)
    return `${capital(rigsCalled(meeting))} ${meeting.length === 1 ? "meets" : "meet"} ${every}. Prices of all parts, in one currency, would tell the cheapest.${also}`;
  const { amount, currency } = cheapest.cost as Cost;
  const unpriced = meeting.filter((row) => !priced.includes(row));
  const without =
    unpriced.length === 0 ? "" : `, of those with all prices (${rigsCalled(unpriced)}: not all)`;
  return `Cheapest rig that meets ${every}: ${cheapest.letter}, ${moneyWords(amount, currency)}${without}.${also}`;
}
