import * as z from "zod";
import { line } from "../units/text";
import type { Demand } from "./demand";
import type { Reference } from "./reference";
import type { Suite } from "./suite";
import { SMALLEST_EFFECT } from "../stats/compare";

/** How far below a claim a part may stay and still deliver, unless the tester says otherwise. */
export const TOLERANCE = 0.05;

/** A study as entered: one question about a drive and the rigs it is put behind. */
export const StudyDraft = z.object({
  title: line(120).min(1, "give the study a title"),
  /** Share by which a part may miss its claim and still deliver. */
  tolerance: z.number().min(0, "at least 0").max(0.5, "at most 50 %").default(TOLERANCE),
  /** Share below which a difference between rigs is of no interest. */
  smallestEffect: z.number().min(0, "at least 0").max(0.5, "at most 50 %").default(SMALLEST_EFFECT),
});
export type StudyDraft = z.infer<typeof StudyDraft>;

/** Tags of a study: short words of the tester's own by which studies are found. */
export const Tags = z
  .array(
    line(30)
      .min(1, "is empty")
      .regex(/^[^,]*$/, "holds a comma"),
  )
  .max(12, "at most 12 tags");

/** What a study is called and found by. */
export const StudyLabels = z.object({ title: StudyDraft.shape.title, tags: Tags });
export type StudyLabels = z.infer<typeof StudyLabels>;

/** A study, with what its drive is wanted for. */
export type Study = StudyDraft & {
  id: string;
  /** Sample data, all of whose runs are simulated. */
  simulated: boolean;
  demands: Demand[];
  /** Rates that no rig of it gave, to be seen beside its rigs. */
  references: Reference[];
  /** What other programs' suites showed through its rigs. */
  suites: Suite[];
  notes?: string;
  tags?: string[];
  /** Since when the study is set aside: out of the list, and searched still; null where it is not. */
  asideSince?: string | null;
};
