/** Standard errors by which a step has to stand out beside a slope. */
const CLEAR = 3;

/**
 * Tells a step from a slow drift that was cut in two: the step that is left where both sides may have
 * one slope in common (analysis of covariance).
 *
 * @param values logarithms of rates
 * @param range where the first side begins, where the second begins, and where it ends
 * @param noise long-run variance of the values
 * @param smallest share by which a step changes the rate at least
 */
export function stepOrDrift(
  values: Float64Array,
  [from, cut, to]: readonly [number, number, number],
  noise: number,
  smallest: number,
): "step" | "drift" {
  // Three times the shorter side is enough to know the slope, and leaves out what is far away.
  const reach = Math.max(24, 3 * Math.min(cut - from, to - cut));
  const sides = [
    [Math.max(from, cut - reach), cut],
    [cut, Math.min(to, cut + reach)],
  ] as const;
  let [xx, xy] = [0, 0];
  const means = sides.map(([a, b]) => {
    let [x, y] = [0, 0];
    for (let i = a; i < b; i++) [x, y] = [x + i, y + values[i]!];
    [x, y] = [x / (b - a), y / (b - a)];
    for (let i = a; i < b; i++) {
      xx += (i - x) ** 2;
      xy += (i - x) * (values[i]! - y);
    }
    return { x, y, n: b - a };
  });
  const [a, b] = means as [(typeof means)[0], (typeof means)[0]];
  const whole = b.y - a.y;
  const apart = b.x - a.x;
  // Without values enough for a slope there is none to be told from.
  const slope = xx > 0 ? xy / xx : 0;
  const step = whole - slope * apart;
  const error = Math.sqrt(noise * (1 / a.n + 1 / b.n + (xx > 0 ? apart ** 2 / xx : 0)));
  if (Math.sign(step) !== Math.sign(whole)) return "drift";
  // A share of the whole, and more than the smallest that counts.
  const large = Math.abs(step) > -Math.log(1 - smallest) && Math.abs(step) > Math.abs(whole) / 3;
  return large && Math.abs(step) > CLEAR * error ? "step" : "drift";
}
