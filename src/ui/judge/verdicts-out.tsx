"use client";

import type { Caption } from "../out/framed-svg";
import { OutMenu } from "../out/out-menu";
import type { Cell } from "../out/save";
import type { Slide } from "../out/slide";

/** Saves the verdicts of a study: as a table, or as a picture for a screen. */
export const VerdictsOut = ({
  caption,
  rows,
  slide,
}: {
  caption: Caption;
  rows: readonly (readonly Cell[])[];
  slide: Slide;
}) => <OutMenu caption={caption} rows={() => rows} slide={() => slide} />;
