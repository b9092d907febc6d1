/** Stand around the words of a study that were sought: no text that is typed holds them. */
export const MARKS = ["\u0002", "\u0003"] as const;
