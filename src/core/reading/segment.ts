/**
 * Cuts a series into stretches of one level each: the cuts with the smallest sum of squares plus a
 * price for each of them (optimal partitioning with pruning: Killick, Fearnhead and Eckley, "Optimal
 * detection of changepoints with a linear computational cost", 2012).
 *
 * @param price of a cut, in squares
 * @param least values of a stretch
 * @returns where stretches begin, but for the first
 */
export function cutsOf(values: Float64Array, price: number, least: number): number[] {
  const n = values.length;
  const [sums, squares] = [new Float64Array(n + 1), new Float64Array(n + 1)];
  for (let i = 0; i < n; i++) {
    sums[i + 1] = sums[i]! + values[i]!;
    squares[i + 1] = squares[i]! + values[i]! ** 2;
  }
  const best = new Float64Array(n + 1).fill(Infinity);
  const before = new Int32Array(n + 1);
  best[0] = -price;
  // Where the stretch that ends now may have begun, and what the best way there costs.
  const open = new Int32Array(n + 1);
  const total = new Float64Array(n + 1);
  let count = 1;
  for (let end = least; end <= n; end++) {
    let [lowest, from] = [Infinity, 0];
    for (let k = 0; k < count; k++) {
      const begin = open[k]!;
      const length = end - begin;
      const difference = sums[end]! - sums[begin]!;
      total[k] =
        length < least
          ? -Infinity
          : best[begin]! + squares[end]! - squares[begin]! - (difference * difference) / length;
      if (length >= least && total[k]! < lowest) [lowest, from] = [total[k]!, begin];
    }
    best[end] = lowest + price;
    before[end] = from;
    // A beginning that is beaten by more than a cut's price is never the best one again.
    let kept = 0;
    for (let k = 0; k < count; k++) if (total[k]! <= lowest + price) open[kept++] = open[k]!;
    open[kept++] = end;
    count = kept;
  }
  const cuts: number[] = [];
  for (let at = before[n]!; at > 0; at = before[at]!) cuts.push(at);
  return cuts.reverse();
}
