import type { Part } from "../chain/part";
import type { Opinion } from "../locate/hypotheses/opinion";
import type { ReportChoice } from "../study/report-choice";
import type { CardChoice } from "./card";
import type { Earlier } from "./earlier";
import type { ReportInput } from "./matter";
import type { FiledWith } from "./seen-with";

/** What is to be made of a study's file, and what stands beside it. */
export interface ReportOrder<F> {
  file: F;
  choice: ReportChoice;
  at: string;
  form: "html" | "zip";
  shelf?: readonly Part[];
  opinion?: Opinion;
  hosts?: readonly string[];
  earlier?: Earlier | null;
}

/** What is to be printed of a part: its card, or all its rigs side by side. */
export interface PartOrder {
  part: Part;
  studies: readonly FiledWith[];
  choice: CardChoice;
  at: string;
  /** Of a sheet: its columns, by their keys; null makes the card. */
  columns: readonly string[] | null;
}

/** What a thread that makes reports is asked for. */
export type ThreadOrder =
  /** Of a study's document as it was put together, not yet held against its schema. */
  | { make: "report"; report: ReportOrder<unknown> }
  /** The page alone, of a study that is at hand. */
  | { make: "page"; page: ReportInput & { choice: ReportChoice } }
  | { make: "part"; part: PartOrder };
