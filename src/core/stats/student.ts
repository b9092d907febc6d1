import jstat from "jstat";

/**
 * Quantile of Student's t distribution.
 *
 * @param p probability in (0, 1)
 * @param dof degrees of freedom, above 0 (need not be whole)
 */
export function studentQuantile(p: number, dof: number): number {
  return jstat.studentt.inv(p, dof);
}
