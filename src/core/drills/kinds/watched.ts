import { defineDrill, together } from "../kind";

/** Not done but looked at: what other programs moved, by the kernel's counters. */
export const WATCHED = defineDrill({
  name: "watched",
  title: "Watched",
  what: "what other programs moved, by the kernel’s counters",
  why: "Shows what a job really moved. The requests of other programs are not known, so nothing is judged by it.",
  directions: ["read", "write", "mixed"],
  targets: "one",
  picture: "rate",
  shows: [],
  repeats: 1,
  parameters: {},
  program: () => [],
  headline: together,
  summary: () => "requests of other programs, unknown in size and number",
});
