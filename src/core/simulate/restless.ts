import { correlated, hash, normal, seeded, type Random } from "./noise";
import type { Fault } from "./model";

/** Shares by which things differ on a quiet bench: tenths of a second, their drift, repeats, pluggings. */
const SAMPLE = 0.012;
const DRIFT = 0.004;
const REPEAT = 0.004;
const PLUGGING = 0.006;
/** How much of a deviation is left a tenth of a second later. */
const KEEP = 0.7;
const KEEP_DRIFT = 0.995;
/** One repeat in so many is an odd one, slower by about this share. */
const ODD = 25;
const ODD_BY = 0.06;
/** A flaky cable: how much wider all is spread, dips and resets a second. */
const FLAKY = { spread: 4, dips: 1 / 12, resets: 1 / 240 };
/** Background traffic comes and goes, about so many seconds each. */
const BACKGROUND_SECONDS = 4;

/** What a run is disturbed by, tick by tick; each kind has a stream of chance of its own. */
export class Restless {
  /** Retries of a flaky cable so far. */
  retries = 0;
  private readonly level: number;
  private readonly quick: () => number;
  private readonly slow: () => number;
  private readonly chance: Random;
  private readonly flaky: boolean;
  private readonly background: number;
  private dip = { share: 1, left: 0 };
  private busy = { on: false, left: 0 };

  /**
   * @param seed of the whole measurement; the same for all repeats of one plugging-in
   * @param noise 1: a quiet bench
   */
  constructor(
    seed: number,
    repeat: number,
    plugging: number,
    private readonly noise: number,
    faults: readonly Fault[],
  ) {
    const stream = (what: string) => seeded(hash(`${seed} ${what}`));
    const one = stream(`repeat ${repeat}`);
    const odd = one() < 1 / ODD ? -Math.abs(normal(one)) * ODD_BY : 0;
    const plugged = PLUGGING * normal(stream(`plugging ${plugging}`));
    this.level = plugged + REPEAT * normal(one) + odd;
    this.quick = correlated(stream(`quick ${repeat}`), KEEP);
    this.slow = correlated(stream(`slow ${repeat}`), KEEP_DRIFT);
    this.chance = stream(`chance ${repeat}`);
    this.flaky = faults.some(({ kind }) => kind === "flaky");
    this.background = faults.reduce((sum, f) => sum + (f.kind === "background" ? f.mbps : 0), 0);
  }

  /** The next tick: by what a rate is multiplied, what others take, and whether the drive was reset. */
  next(seconds: number): { factor: number; taken: number; reset: boolean } {
    const wide = this.flaky ? FLAKY.spread : 1;
    const off = this.level + SAMPLE * wide * this.quick() + DRIFT * wide * this.slow();
    const [dips, resets, comes] = [this.chance(), this.chance(), this.chance()];
    let reset = false;
    this.dip.left -= seconds;
    if (this.flaky && this.dip.left <= 0) {
      this.dip = { share: 1, left: 0 };
      if (resets < FLAKY.resets * seconds) {
        reset = true;
        this.dip = { share: 0, left: 1.5 + 2.5 * comes };
      } else if (dips < FLAKY.dips * seconds) {
        this.retries += 1 + Math.floor(8 * comes);
        this.dip = { share: 0.1 + 0.5 * comes, left: 0.3 + 1.7 * comes };
      }
    }
    this.busy.left -= seconds;
    if (this.busy.left <= 0)
      this.busy = { on: !this.busy.on, left: 2 * BACKGROUND_SECONDS * comes };
    return {
      factor: Math.max(0, 1 + this.noise * off) * this.dip.share,
      taken: this.busy.on ? this.background : 0,
      reset,
    };
  }
}
