import * as z from "zod";
import { MOST_MBPS } from "../units/bounds";
import { line } from "../units/text";

/** A rate to hold others against that no rig of the study gave: "the built-in drive", 5 100 MB/s. */
export const Reference = z.object({
  name: line(60).min(1, "name it"),
  mbps: z.coerce.number({ error: "must be a number" }).positive("must be above 0").max(MOST_MBPS),
});
export type Reference = z.infer<typeof Reference>;

/** Beyond so many lines the rigs themselves are lost to sight. */
export const MOST_REFERENCES = 6;

/** The rates that a study is held against beside its rigs. */
export const References = z
  .array(Reference)
  .max(MOST_REFERENCES, `at most ${MOST_REFERENCES} rates`)
  .default([]);
