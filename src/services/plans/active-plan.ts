/** A plan that is being worked on. */
export interface ActivePlan {
  /** Ends whatever is waited for now. */
  wake: AbortController;
  /** Set when the tester says that what is plugged in shall do. */
  goOn: boolean;
  /** Rigs for which the tester has said so. */
  confirmed: Set<string>;
  pausing: boolean;
  /** Kept when it is worked on no more. */
  over: Promise<void>;
}
