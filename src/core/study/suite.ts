import * as z from "zod";
import { line } from "../units/text";

/** More than any suite's figure is, in whatever unit. */
const MOST_FIGURE = 1e12;
const MOST_RIGS = 40;
export const MOST_TESTS = 100;
export const MOST_SUITES = 12;

/** One test of another program's suite, through each of the suite's rigs. */
export const SuiteTest = z.object({
  name: line(80).min(1, "name the test"),
  /** What its figures are in: "s", "MB/s", "points". */
  unit: line(20),
  /** Whether the smaller figure is the better one, as of times. */
  isLessBetter: z.boolean(),
  /** In the order of the suite's rigs; null where it was not done. */
  values: z
    .array(
      z
        .number({ error: "must be a number" })
        .positive("must be above 0")
        .max(MOST_FIGURE, "is too large")
        .nullable(),
    )
    .max(MOST_RIGS),
});
export type SuiteTest = z.infer<typeof SuiteTest>;

/** What another program's suite of tests showed through rigs of a study. */
export const Suite = z
  .object({
    name: line(80).min(1, "name the suite"),
    rigIds: z
      .array(z.string().max(100))
      .min(1, "name a rig")
      .max(MOST_RIGS, `at most ${MOST_RIGS} rigs`),
    tests: z
      .array(SuiteTest)
      .min(1, "a suite has at least one test")
      .max(MOST_TESTS, `at most ${MOST_TESTS} tests`),
  })
  .superRefine(({ rigIds, tests }, context) => {
    const complain = (path: (string | number)[], message: string) =>
      context.addIssue({ code: "custom", path, message });
    if (new Set(rigIds).size < rigIds.length) complain(["rigIds"], "names a rig twice");
    tests.forEach(({ name, values }, i) => {
      if (values.length !== rigIds.length)
        complain(["tests", i, "values"], "needs a figure, or none, for each rig");
      if (tests.findIndex((other) => other.name === name) < i)
        complain(["tests", i, "name"], "stands there twice");
    });
  });
export type Suite = z.infer<typeof Suite>;

/** Suites with other identifiers of their rigs; a rig that has none leaves with its figures. */
export const suitesWith = (
  suites: readonly Suite[],
  idOf: (rigId: string) => string | undefined,
): Suite[] =>
  suites.flatMap((suite) => {
    const kept = suite.rigIds.flatMap((rigId, at) => {
      const id = idOf(rigId);
      return id === undefined ? [] : [{ id, at }];
    });
    if (kept.length === 0) return [];
    const tests = suite.tests.map((test) => ({
      ...test,
      values: kept.map(({ at }) => test.values[at] ?? null),
    }));
    return [{ ...suite, rigIds: kept.map(({ id }) => id), tests }];
  });

/** The suites of a study. */
export const Suites = z
  .array(Suite)
  .max(MOST_SUITES, `at most ${MOST_SUITES} suites`)
  .refine((all) => new Set(all.map(({ name }) => name)).size === all.length, "one name for each")
  .default([]);
