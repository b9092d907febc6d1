import type { Direction } from "../../units/rate";
import type { Posterior } from "./posterior";
import { placeKey } from "./explanation";
import { setUpKey } from "../../chain/set-up";
import { bySetUp } from "../observations/pooled";
import type { Observation } from "../observations/observation";
import { otherWay } from "../observations/signs/both-ways";
import { byRequest } from "../observations/signs/by-request";
import { errorCounts } from "../observations/signs/error-counts";
import { fall } from "../observations/signs/fall";
import { interruptions } from "../observations/signs/interruptions";
import { farHost } from "../observations/signs/far-host";
import { processor } from "../observations/signs/processor";
import { noRise } from "../observations/signs/queueing";
import { reportedMode } from "../observations/signs/reported-mode";
import type { Sign, Signature } from "../observations/signs/sign";
import { source } from "../observations/signs/source";
import { spread } from "../observations/signs/spread";
import type { Trial } from "../likelihood/trial";

/**
 * What is seen beside the rates of the rigs that are asked about: the other direction, ladders, the
 * course and spread of their runs, the processors of both ends, and where a copy waits.
 *
 * @param slow what is asked about, of one drill in one direction
 * @param all that was seen, in all drills, of one origin's kind
 */
export function signaturesIn(
  slow: readonly Observation[],
  all: readonly Observation[],
  direction: Direction,
): Signature[] {
  const setUps = bySetUp(all);
  const isSound = ({ doubtful }: Observation) => !doubtful;
  const beside = (one: Observation) => (setUps.get(setUpKey(one.rig)) ?? []).filter(isSound);
  const keys = new Set(slow.map(({ rig }) => setUpKey(rig)));
  return [
    ...slow
      .filter(isSound)
      .flatMap((one) => [
        ...otherWay(one, beside(one), direction),
        ...byRequest(one, beside(one), direction),
        ...reportedMode(one, beside(one)),
        ...fall(one, beside(one)),
        ...[spread, interruptions, errorCounts, processor, farHost, source].flatMap((sign) =>
          sign(one),
        ),
      ]),
    ...[...keys].flatMap((key) => (setUps.get(key) ?? []).filter(isSound).flatMap(noRise)),
  ];
}

/**
 * How likely a sign shows in a rig, if this is what holds it back.
 *
 * @param place as explanations have it, or one that stands for several
 * @param asDesigned probability that it shows where the ledger foresees the rate
 */
export function showsBy(
  { chance, otherwise }: Sign,
  { sites, bench }: Pick<Posterior, "sites" | "bench">,
  place: string,
  trial: Trial,
  asDesigned = otherwise,
): number {
  if (trial.ledger.by.some(({ at }) => placeKey(at) === place)) return asDesigned;
  const number = sites.findIndex(({ at }) => placeKey(at) === place);
  if (number < 0) return otherwise;
  let [shows, all] = [0, 0];
  for (const { kind, density } of bench.priors[number]!.kinds) {
    const share = density.reduce((sum, value) => sum + value, 0);
    shows += share * (chance(sites[number]!, kind) ?? otherwise);
    all += share;
  }
  return all > 0 ? shows / all : otherwise;
}
