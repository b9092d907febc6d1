import type { Caption } from "./framed-svg";
import type { Cell } from "./save";

/** A picture as an SVG document in the light theme, with its size. */
export interface Drawn {
  svg: string;
  width: number;
  height: number;
}

/** What leaves the program of a picture, beside the picture itself. */
export interface Out {
  caption: Caption;
  /** What it shows, in a sentence for a screen; its title where it says all. */
  statement?: string;
  rows: () => readonly (readonly Cell[])[];
}
