/** A cell or a head that makes no sense, as people count: the first line is line 1. */
export interface GridProblem {
  line: number;
  column: number;
  text: string;
  problem: string;
}
