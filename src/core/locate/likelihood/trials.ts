import { median } from "simple-statistics";
import type { Direction } from "../../units/rate";
import type { Grid } from "./grid";
import { comesAndGoes, designed } from "../../chain/designed";
import { ledgerCapacity, type LedgerCapacity } from "./ledger-capacity";
import { priorShare, USUAL_OPINION, type Opinion } from "../hypotheses/opinion";
import { requestsOf, shownBy } from "../observations/requests";
import { sitesOf } from "../hypotheses/site";
import { weighModes } from "./slower-modes";
import { stateSite } from "../hypotheses/state-site";
import { TAILS, type Trial } from "./trial";
import type { SetUpObservation } from "../observations/observation";

/** What putting a rig together once more changes of its rate, as a share. */
const SET_UP = 0.022;
/** Of Student's t with so many degrees of freedom the density at its middle. */
const PEAK = 3 / 8;
/** What is on no list leaves at least this share of the rate. */
const ODD_FLOOR = 0.02;

/**
 * The trials of what was seen in one direction, all with the same noise: that of the repeats is
 * pooled over all of them.
 */
export function trialsOf(
  seen: readonly SetUpObservation[],
  direction: Direction,
  grid: Grid,
  opinion: Opinion = USUAL_OPINION,
): Trial[] {
  const nothing = priorShare(opinion, "nothing");
  const repeats = noiseOfRepeats(seen);
  const rigs = seen.map((one, at) => {
    const others = seen.flatMap(({ rig }) => (rig === one.rig ? [] : [rig]));
    const rig = comesAndGoes(one.rig, others) ? one.rig : designed(one.rig);
    const requests = requestsOf(rig, direction, one.drill);
    return { one, at, rig, requests, median: median(one.rates) };
  });
  const trials = rigs.flatMap(({ one, at, rig }) => {
    const shown = shownBy(rigs.filter((other) => other.at !== at));
    const ledger = ledgerCapacity(rig, one.drill, direction, grid, shown);
    return ledger ? [trialOf(one, at, ledger, grid, { repeats, nothing })] : [];
  });
  weighModes(trials, direction, grid);
  return trials.map((trial) => ({ ...trial, top: Math.max(...trial.likelihood) }));
}

/** What little is known of the repeats' noise before they are seen: as if from so many of so much. */
const [BELIEVED, AS_FROM] = [0.025, 3];

/** Pooled standard deviation of the logarithms of repeats. */
function noiseOfRepeats(seen: readonly SetUpObservation[]): number {
  let [sum, count] = [AS_FROM * BELIEVED ** 2, AS_FROM];
  for (const { rates } of seen) {
    if (rates.length < 2) continue;
    const logs = rates.map(Math.log);
    const mean = logs.reduce((a, b) => a + b, 0) / logs.length;
    for (const log of logs) sum += (log - mean) ** 2;
    count += logs.length - 1;
  }
  return Math.sqrt(sum / count);
}

function trialOf(
  seen: SetUpObservation,
  at: number,
  ledger: LedgerCapacity,
  grid: Grid,
  /** The noise of repeats, and how often something else is the cause. */
  { repeats, nothing }: { repeats: number; nothing: number },
): Omit<Trial, "top"> {
  const logs = seen.rates.map(Math.log).toSorted((a, b) => a - b);
  const mean = logs.reduce((a, b) => a + b, 0) / logs.length;
  const noise = Math.hypot(SET_UP, repeats / Math.sqrt(logs.length));
  const count = grid.rates.length;
  const seenAt = new Float64Array(count);
  for (let i = 0; i < count - 1; i++) {
    const off = (mean - grid.logs[i]!) / noise;
    seenAt[i] = (PEAK / noise) * (1 + (off * off) / TAILS) ** (-(TAILS + 1) / 2);
  }
  const places = () => new Float64Array(grid.order.length);
  const limited = places();
  const asDesigned = ledger.by.map(places);
  const odd = places();
  const likelihood = places();
  const below = ledger.by.map(() => 0);
  for (let i = 0; i < count; i++) {
    ledger.by.forEach(({ density }, j) => {
      asDesigned[j]![i] = (1 - nothing) * below[j]!;
      likelihood[i]! += asDesigned[j]![i]!;
      below[j]! += density[i]! * seenAt[i]!;
    });
    limited[i] = (1 - nothing) * seenAt[i]! * ledger.reaches[i]!;
    // Any rate below what the chain carries, none likelier than another; above it only noise.
    const most = Math.min(grid.rates[i]!, ledger.most);
    const off = Math.max(0, mean - Math.log(most)) / noise;
    odd[i] = (nothing * Math.exp(-0.5 * off * off)) / -Math.log(ODD_FLOOR);
    likelihood[i]! += limited[i]! + odd[i]!;
  }
  return {
    ...seen,
    at,
    sites: [
      ...sitesOf(seen.rig),
      ...(seen.states ?? []).map((state) => stateSite(seen.rig, state)),
    ],
    ledger,
    median: Math.exp(median(logs)),
    noise,
    likelihood,
    limited,
    asDesigned,
    odd,
  };
}
