/** Looks a second, unless the tester says otherwise. */
export const USUAL_PER_SECOND = 5;
