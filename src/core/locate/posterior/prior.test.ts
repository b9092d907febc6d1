import { describe, expect, it } from "vitest";
import type { Part } from "../../chain/part";
import { usualDrill } from "../../drills/shape";
import { cable, drive, enclosure, port, rig, USB_10G } from "../../testing/rigs";
import { gridOver } from "../likelihood/grid";
import { ledgerCapacity } from "../likelihood/ledger-capacity";
import { USUAL_OPINION, type Opinion } from "../hypotheses/opinion";
import { priorOf } from "./prior";
import { sitesOf } from "../hypotheses/site";

const grid = gridOver(0.05, 2000);
const [P, K, B, D] = [port(USB_10G), cable(USB_10G, "K"), enclosure(), drive()];
const told: Part = { ...D, requestUs: { read: 90 } };
const prior = (
  part: Part,
  name: string,
  opinion: Opinion = USUAL_OPINION,
  direction: "read" | "write" = "read",
) => {
  const chain = rig([P, K, B, part.kind === "drive" ? part : D]);
  const site = sitesOf(chain).find(({ key }) => key === `part ${part.id}`)!;
  const ledger = ledgerCapacity(chain, usualDrill(name, direction), direction, grid)!;
  return priorOf(site, direction, ledger, grid, { opinion });
};
/** Of a limit, were there one: how likely it lies below a rate. */
const below = ({ density }: { density: Float64Array }, mbps: number) =>
  density.reduce((sum, value, i) => sum + (grid.rates[i]! < mbps ? value : 0), 0);

describe("what is believed of a part before any run", () => {
  it("is that a drive that does not say so may take long for small requests, more than any other part", () => {
    const small = prior(D, "scatter");
    expect(small.odds).toBeGreaterThan(3 * prior(D, "haul").odds);
    for (const part of [P, K, B])
      expect(small.odds).toBeGreaterThan(1.5 * prior(part, "scatter").odds);
    expect(prior(told, "scatter").odds).toBeCloseTo(prior(told, "haul").odds, 9);
  });

  it("reaches down to what a disk gives that has to seek and to turn, and not below", () => {
    // 1 MB/s is some 250 requests of 4 KiB a second, 0.15 MB/s less than any disk does.
    expect(below(prior(D, "scatter"), 1)).toBeGreaterThan(0.1);
    expect(below(prior(D, "scatter"), 0.15)).toBeLessThan(0.01);
    expect(below(prior(told, "scatter"), 1)).toBeLessThan(0.01);
  });

  it("is that a drive may sustain less in writing than it begins with, which says nothing of others", () => {
    const fill = prior(D, "long-fill", USUAL_OPINION, "write");
    expect(fill.odds).toBeGreaterThan(3 * prior(D, "haul", USUAL_OPINION, "write").odds);
    for (const part of [P, K, B])
      expect(prior(part, "long-fill", USUAL_OPINION, "write").odds).toBeCloseTo(
        prior(part, "haul", USUAL_OPINION, "write").odds,
        6,
      );
  });

  it("is what the tester says of it", () => {
    const sure = { ...USUAL_OPINION, priors: { "request time": 0.05 } };
    expect(prior(D, "scatter", sure).odds).toBeLessThan(prior(D, "scatter").odds / 3);
    expect(prior(D, "haul", sure).odds).toBeCloseTo(prior(D, "haul").odds, 9);
  });
});
