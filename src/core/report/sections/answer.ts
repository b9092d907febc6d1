import { capital, nameBottleneck } from "../../chain/wording";
import type { LetteredRig } from "../../answer/lettered-rig";
import type { StudyAnswer } from "../../answer/study";
import { drillNamed } from "../../drills/catalogue";
import { tellVerdicts } from "../../judge/tell";
import { certaintyOf, certaintyWords } from "../../locate/findings/certainty";
import { DOING, inUnit } from "../../units/rate";
import { anchorOf, words, type Block, type Cell, type Inline } from "../document";
import { drawingsOf } from "../drawings";
import type { Matter } from "../matter";
import { originWords } from "../origins";

/** The page that most readers read: what was found, with its figures and its drawing. */
export function answerSection(matter: Matter): Block[] {
  const { answers, judged } = matter;
  const first = answeringOf(answers);
  const shown = first.filter(({ rigs }) => rigs.some(({ observation }) => observation));
  const [lead] = shown.length > 0 ? shown : first;
  const next = lead?.next?.go.kind === "swap" ? lead.next : null;
  return [
    ...(lead
      ? [
          {
            kind: "prose" as const,
            large: true,
            words: [
              ...spoken(lead.headline, lead),
              ...(judged.length > 0 ? [` ${capital(tellVerdicts(judged))}`] : []),
            ],
          },
        ]
      : []),
    ...(shown.length > 0 ? [glance(matter, shown)] : []),
    ...(shown[0] ? drawingsOf(matter, telling(shown[0]), "answer") : []),
    ...(next
      ? [{ kind: "prose" as const, words: [`Next${next.why && ` ${next.why}`}: ${next.text}.`] }]
      : []),
  ];
}

/** Rigs that are drawn with the answer: the fastest, and the slowest that something holds back. */
export const DRAWN = 3;

/** An answer with the few rigs that tell most. */
export function telling(answer: StudyAnswer): StudyAnswer {
  const sound = answer.rigs
    .filter(({ observation }) => observation && !observation.doubtful)
    .toSorted((a, b) => b.observation!.repeats.median - a.observation!.repeats.median);
  if (sound.length > 0 && sound.length <= DRAWN)
    return { ...answer, rigs: answer.rigs.filter((one) => sound.includes(one)) };
  const [fastest, ...others] = sound.length > 0 ? sound : answer.rigs.slice(0, 1);
  const slow = others.filter(({ finding }) => finding?.kind === "below");
  const chosen = new Set([fastest, ...(slow.length > 0 ? slow : others).slice(1 - DRAWN)]);
  return { ...answer, rigs: answer.rigs.filter((one) => chosen.has(one)) };
}

/** Of each direction the drill that the study answers with. */
export const answeringOf = (answers: readonly StudyAnswer[]): StudyAnswer[] =>
  answers.filter(
    (one, i) => answers.findIndex(({ direction }) => direction === one.direction) === i,
  );

/** Every rig in one line: what it gave each way, and what limits it. */
function glance({ filed, rates, letter }: Matter, shown: readonly StudyAnswer[]): Block {
  const origins = originWords(
    shown.flatMap(({ rigs }) => rigs.flatMap(({ observation }) => observation?.origin ?? [])),
  );
  const drills = shown.map(
    ({ drill, direction }) => `${drillNamed(drill).title} ${DOING[direction]}`,
  );
  return {
    kind: "table",
    table: {
      key: "glance",
      title: "At a glance",
      note: `${drills.join(", ")}; medians of the repeats, ${rates.unit}.${origins ? ` ${origins}` : ""}`,
      columns: [
        { name: "rig" },
        ...shown.map(({ direction }) => ({
          name: `${DOING[direction]}, ${rates.unit}`,
          figure: true,
        })),
        { name: "limited by" },
      ],
      rows: filed.rigs.map(({ id, name }, i): Cell[] => [
        words(`${letter(id)} ${name}`),
        ...shown.map(({ rigs }): Cell => {
          const seen = rigs[i]?.observation;
          if (!seen) return words("–");
          const [run] = seen.measurementIds;
          const mbps = seen.repeats.median;
          return {
            text: rates.rate(mbps),
            value: inUnit(mbps, rates.unit),
            ...(run ? { run: anchorOf(run) } : {}),
          };
        }),
        words([...new Set(shown.flatMap(({ rigs }) => holding(rigs[i]!)))].join("; ") || "–"),
      ]),
    },
  };
}

/** What limits a rig, in a few words with its certainty; nothing where that is not known. */
function holding({ finding, standing }: LetteredRig): string[] {
  const { likeliest } = standing ?? {};
  if (finding?.kind === "at bottleneck")
    return [
      nameBottleneck(finding.bottleneck)
        .map(({ text }) => text)
        .join(""),
    ];
  if (!likeliest) return [];
  return [`${likeliest.subject} (${certaintyWords(certaintyOf([likeliest.probability]))})`];
}

/** "rig A", "Rigs A and B", "rigs A, B and C": how sentences name rigs. */
const RIGS = /\b[Rr]igs? [A-Z]{1,2}(?:(?:, | and )[A-Z]{1,2})*(?![a-z])/g;

/**
 * Sentences of an answer as words of a report: a rig that is named leads to the run that its figures are
 * from.
 */
export function spoken(
  sentences: readonly (readonly { text: string; bottleneck?: boolean }[])[],
  { rigs }: Pick<StudyAnswer, "rigs">,
): Inline[] {
  const runs = new Map(
    rigs.map(({ letter, observation }) => [letter, observation?.measurementIds[0]]),
  );
  return sentences.flatMap((segments, i): Inline[] => [
    ...(i > 0 ? [" "] : []),
    ...segments.flatMap(({ text, bottleneck }): Inline[] =>
      bottleneck ? [{ text, bottleneck }] : linked(text, runs),
    ),
  ]);
}

function linked(text: string, runs: ReadonlyMap<string, string | undefined>): Inline[] {
  const found: Inline[] = [];
  let end = 0;
  for (const { index, 0: named } of text.matchAll(RIGS)) {
    for (const { index: at, 0: letter } of named.matchAll(/\b[A-Z]{1,2}\b/g)) {
      const run = runs.get(letter);
      if (!run) continue;
      const from = index + at;
      found.push(text.slice(end, from), { text: letter, run: anchorOf(run) });
      end = from + letter.length;
    }
  }
  return [...found, text.slice(end)].filter((one) => one !== "");
}
