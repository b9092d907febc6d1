/** A core counts as fully busy from here on, as a share of its time. */
const FULLY = 0.97;

/** Whether a processor core had no time left in a run. */
export const isCoreFull = ({ busiestCore }: { busiestCore: number | null }): boolean =>
  (busiestCore ?? 0) >= FULLY;
