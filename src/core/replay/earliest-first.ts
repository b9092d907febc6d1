/** Moments that are taken out again, the earliest first (a binary heap). */
export class EarliestFirst {
  private readonly heap: number[] = [];

  add(at: number): void {
    const { heap } = this;
    let place = heap.push(at) - 1;
    while (place > 0) {
      const above = (place - 1) >> 1;
      if (heap[above]! <= at) break;
      heap[place] = heap[above]!;
      place = above;
    }
    heap[place] = at;
  }

  /** @throws RangeError where there is none left */
  take(): number {
    const { heap } = this;
    const [first] = heap;
    const last = heap.pop();
    if (first === undefined || last === undefined) throw new RangeError("nothing is left");
    if (heap.length === 0) return first;
    let place = 0;
    for (;;) {
      let below = 2 * place + 1;
      if (below + 1 < heap.length && heap[below + 1]! < heap[below]!) below++;
      if (below >= heap.length || heap[below]! >= last) break;
      heap[place] = heap[below]!;
      place = below;
    }
    heap[place] = last;
    return first;
  }
}
