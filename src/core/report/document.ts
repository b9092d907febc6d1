import type { LetteredRig } from "../answer/lettered-rig";
import type { OpenTrace } from "../study/open-trace";
import type { Direction, RateUnit } from "../units/rate";
import type { PhotoData } from "../study/photo";

/** What a report says, before it is given a form: every form (page, Markdown, tables) is made from this. */
export interface ReportDocument {
  /** A report runs over pages; a card has one; a sheet is as wide as its table. */
  form: "report" | "card" | "sheet";
  title: string;
  author: string;
  /** When it was made, as written. */
  made: string;
  /** What of it was not measured, as it has to stand on every page; null where all was. */
  origins: string | null;
  sections: Section[];
}

/** Where a piece of a report that stands by itself is from. */
export const sourceOf = ({ title, author, made }: ReportDocument): string =>
  `Source: ${[title, author, made].filter(Boolean).join(", ")}. Made with Nerrit.`;

export interface Section {
  /** Unique in its report. */
  key: string;
  title: string;
  /** The tester's own words, before what the program says. */
  own: string;
  blocks: Block[];
}

/** Words, and where they lead: to a run of the report's last section. */
export type Inline = string | { text: string; run?: string; bottleneck?: boolean };

export type Block =
  | { kind: "heading"; text: string }
  /** `large`: the answer itself. */
  | { kind: "prose"; words: Inline[]; large?: boolean }
  | { kind: "list"; items: Inline[][] }
  | { kind: "table"; table: Table }
  | { kind: "picture"; picture: Picture }
  | { kind: "photo"; photo: ShownPhoto };

export interface Table {
  key: string;
  title: string;
  /** What stands in it, in which unit, and where it is from. */
  note: string;
  columns: { name: string; figure?: boolean }[];
  rows: Cell[][];
}

/** A field of a table: as read, and as it is kept where it is a figure. */
export interface Cell {
  text: string;
  value?: number;
  run?: string;
  /** Where other links of the report lead to. */
  anchor?: string;
}

export interface Picture {
  key: string;
  title: string;
  note: string;
  /** What it shows, for those who do not see it. */
  alt: string;
  /** The runs whose figures stand in it. */
  runs: { text: string; run: string }[];
  drawn:
    | { kind: "rigs"; rigs: LetteredRig[]; direction: Direction; unit: RateUnit }
    | { kind: "trace"; trace: OpenTrace; unit: RateUnit };
}

/** A picture of the bench, with what it shows. */
export interface ShownPhoto extends PhotoData {
  key: string;
  caption: string;
}

/** A field of plain words. */
export const words = (text: string): Cell => ({ text });

/** Where a run stands in the report. @param id of its measurement */
export const anchorOf = (id: string): string => `run-${id}`;
