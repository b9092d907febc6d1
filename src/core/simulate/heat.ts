import { Heat } from "./model";

/** How much warmer a part gets whose heat goes nowhere. */
const NO_PAD = 2.5;

/** A part's temperature: one mass behind one thermal resistance (Newton's law of cooling). */
export class Thermal {
  celsius: number;

  private constructor(
    private readonly heat: Heat,
    private readonly ambient: number,
    private readonly rise: number,
  ) {
    this.celsius = ambient;
  }

  /** @returns null for a part that never gets too hot */
  static of(heat: Heat | undefined, bare: boolean, ambient: number): Thermal | null {
    if (!heat && !bare) return null;
    const known = heat ?? Heat.parse({});
    return new Thermal(known, ambient, known.riseCelsius * (bare ? NO_PAD : 1));
  }

  /** What is left of its rate at this temperature. */
  share(): number {
    const { limitCelsius, spanCelsius, leastShare } = this.heat;
    const over = (this.celsius - limitCelsius) / spanCelsius;
    return 1 - (1 - leastShare) * Math.min(1, Math.max(0, over));
  }

  /** So much of its full rate passed for so long. */
  passed(load: number, seconds: number): void {
    const towards = this.ambient + this.rise * Math.min(1, load);
    const kept = Math.exp(-seconds / this.heat.tauSeconds);
    this.celsius = towards + (this.celsius - towards) * kept;
  }
}
