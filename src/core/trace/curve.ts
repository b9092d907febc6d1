/** Bytes moved since the moment before. */
export interface Moment {
  ms: number;
  bytes: number;
}

const MOST = 4096;

/**
 * What moved over time, in memory that does not grow with its length: when it is full, neighbours are
 * joined two by two. Up to 4096 moments, seven minutes at ten a second, nothing is joined.
 */
export class Curve {
  private held: Moment[] = [];
  private join = 1;
  private pending = 0;

  /** @param ms after the start; not before the moment added last */
  add(ms: number, bytes: number): void {
    const last = this.held.at(-1);
    if (last && this.pending > 0 && this.pending < this.join) {
      last.ms = ms;
      last.bytes += bytes;
      this.pending += 1;
      return;
    }
    this.held.push({ ms, bytes });
    this.pending = 1;
    if (this.held.length > MOST) this.halve();
  }

  /** In order of time. */
  get moments(): readonly Moment[] {
    return this.held;
  }

  private halve(): void {
    const joined: Moment[] = [];
    for (let i = 0; i < this.held.length; i += 2) {
      const [a, b] = [this.held[i]!, this.held[i + 1]];
      joined.push(b ? { ms: b.ms, bytes: a.bytes + b.bytes } : a);
    }
    this.pending = this.held.length % 2 === 1 ? this.join : 2 * this.join;
    this.held = joined;
    this.join *= 2;
  }
}
