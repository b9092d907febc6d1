import { tellReading } from "../../reading/reading-words";
import { counts, isTraced } from "../../study/measurement";
import { openRun } from "../../study/open-run";
import { titleOf } from "../../drills/drill";
import { DOING } from "../../units/rate";
import { anchorOf, type Block } from "../document";
import type { Matter } from "../matter";
import { tracedIn } from "../traced";
import { originWords } from "../origins";

/** Places of all traces together. */
const PLACES = 9000;
const MOST_PLACES = 400;
/** A trace of fewer samples shows nothing that its figure does not. */
const LEAST_SAMPLES = 5;

/** How the rate of each rig went over time: one run of each drill, those that change the most first. */
export function tracesSection(matter: Matter): Block[] {
  const { seen, filed, rates, letter } = matter;
  const counted = new Set(seen.flatMap(({ measurementIds }) => measurementIds));
  const all = filed.measurements.filter(({ id }) => counted.has(id));
  const shown = tracedIn(all).flatMap((one) => {
    const run = one.runs
      .filter(isTraced)
      .find((each) => counts(each) && each.samples.length >= LEAST_SAMPLES);
    return run ? [{ one, run }] : [];
  });
  if (shown.length === 0) return [{ kind: "prose", words: ["No trace was kept of these runs."] }];
  const places = Math.min(MOST_PLACES, Math.floor(PLACES / shown.length));
  const left = all.length - shown.length;
  return [
    ...shown.flatMap(({ one, run }): Block[] => {
      const trace = { ...openRun(one, run, places), studyId: "", photos: [] };
      const way = one.drill.direction;
      const name = `${letter(one.rigId)}, ${one.rig.name}: ${titleOf(one.drill)}, ${way === "mixed" ? "reading and writing" : DOING[way]}`;
      const origin = originWords([one.origin]);
      const told = trace.reading ? tellReading(trace.reading, rates.said, trace) : "";
      return [
        {
          kind: "picture",
          picture: {
            key: `trace-${letter(one.rigId)}-${one.drill.name}-${way}-${run.repeat + 1}`,
            title: name,
            note: `Repeat ${run.repeat + 1}, ${rates.unit} over seconds: mean, and the extremes within each place drawn.${origin ? ` ${origin}` : ""}`,
            alt: told || `The rate of ${name} over time.`,
            runs: [{ text: `repeat ${run.repeat + 1}`, run: anchorOf(one.id) }],
            drawn: { kind: "trace", trace, unit: rates.unit },
          },
        },
        ...(told ? [{ kind: "prose" as const, words: [told] }] : []),
      ];
    }),
    ...(left > 0
      ? [
          {
            kind: "prose" as const,
            words: [`What other runs did over time is in the study’s file.`],
          },
        ]
      : []),
  ];
}
