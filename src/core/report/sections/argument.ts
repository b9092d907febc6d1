import { titleOf } from "../../drills/drill";
import { isAlike } from "../../drills/shape";
import type { Located } from "../../locate/locate";
import { placesOf } from "../../locate/locate";
import { evidenceOn } from "../../locate/findings/for-and-against";
import {
  likelihoodWords,
  tellExplanation,
  tellLocated,
  tellNext,
} from "../../locate/findings/sentences";
import type { Evidence } from "../../locate/findings/for-and-against";
import { notCounted } from "../../locate/observations/not-counted";
import { carriedIn, STATE_WORDS, type Carried } from "../../locate/findings/carried";
import { capital } from "../../chain/wording";
import { DOING, inUnit } from "../../units/rate";
import { anchorOf, words, type Block, type Cell, type Inline } from "../document";
import type { Matter } from "../matter";
import type { Observation } from "../../study/measurement";
import { argumentsOf, type ArgumentStep } from "../../locate/findings/argument";
import { TOGETHER } from "../../locate/observations/pooled";

/** Explanations that are told of one rig. */
const MOST_TOLD = 4;
/** What is less likely than this is not told. */
const UNTOLD = 0.01;

/** Which part holds each slow rig back: explanations, what speaks for and against them, and what is next. */
export function argumentSection(matter: Matter): Block[] {
  const { located, filed } = matter;
  if (located.length === 0) return [{ kind: "prose", words: ["These rigs run as designed."] }];
  const order = filed.rigs.map(({ id }) => id);
  const histories = historiesOf(located, matter);
  return located
    .toSorted(
      (a, b) =>
        order.indexOf(a.rig.id) - order.indexOf(b.rig.id) || (a.direction < b.direction ? -1 : 1),
    )
    .flatMap((one) => argue(one, matter, histories.get(one) ?? []));
}

/** What was seen of a rig that is told of, in its drill. */
const seenOf = ({ rig, drill }: Located, { seen }: Matter): Observation | undefined =>
  seen.find((other) => other.rig === rig && other.drill === drill);

/** The history of the argument about each rig; of very many rigs none is told. */
function historiesOf(located: readonly Located[], matter: Matter): Map<Located, ArgumentStep[]> {
  const { conclusions, seen, filed } = matter;
  const told = located.flatMap((one) => {
    const slow = seenOf(one, matter);
    const few = slow && seen.filter((other) => isAlike(other.drill, slow.drill)).length <= TOGETHER;
    return few ? [{ one, slow }] : [];
  });
  const times = new Map(filed.measurements.map(({ id, createdAt }) => [id, createdAt]));
  const timeOf = ({ measurementIds }: Pick<Observation, "measurementIds">) =>
    measurementIds.map((id) => times.get(id) ?? "").toSorted()[0] ?? "";
  const slow = told.map((each) => each.slow);
  const steps = argumentsOf(slow, conclusions.beside, conclusions, timeOf);
  return new Map(told.map(({ one }, i) => [one, steps[i]!]));
}

function argue(one: Located, matter: Matter, steps: readonly ArgumentStep[]): Block[] {
  const { rig, drill, direction, explanations, settled, nextSwaps } = one;
  const { rates, letter, seen, filed } = matter;
  const told = placesOf(explanations)
    .filter(({ probability }, i) => i === 0 || probability >= UNTOLD)
    .slice(0, MOST_TOLD);
  const isHeld = explanations[0] && explanations[0].kind !== "as-designed";
  const reaches =
    isHeld && one.posterior.trials.includes(one.trial) ? carriedIn(one.posterior, one.trial) : [];
  const slow = seenOf(one, matter);
  const alike = seen.filter((other) => isAlike(other.drill, drill));
  const out = slow ? notCounted(slow, filed.measurements, filed.rigs, alike) : [];
  return [
    {
      kind: "heading",
      text: `${letter(rig.id)}, ${rig.name}: ${titleOf(drill)}, ${DOING[direction]}`,
    },
    {
      kind: "prose",
      words: [
        `${tellLocated(one, rates)} `,
        ...(slow ? [{ text: "The run", run: anchorOf(slow.measurementIds[0]!) }] : []),
      ],
    },
    ...told.flatMap(({ explanations: [first], probability }): Block[] => {
      if (!first) return [];
      const { for: pro, against } = evidenceOn(first, one, rates);
      return [
        {
          kind: "prose",
          words: [`${capital(likelihoodWords(probability))}: ${tellExplanation(first, one)}.`],
        },
        ...(pro.length + against.length > 0
          ? [
              {
                kind: "list" as const,
                items: [
                  ...pro.map((evidence) => spoken("For", evidence)),
                  ...against.map((evidence) => spoken("Against", evidence)),
                ],
              },
            ]
          : []),
      ];
    }),
    ...(reaches.length > 0 ? [standings(one, reaches, matter)] : []),
    ...history(steps, matter),
    ...(!settled && nextSwaps[0]
      ? [{ kind: "prose" as const, words: [tellNext(nextSwaps[0], one, rates)] }]
      : []),
    ...(out.length > 0
      ? [
          { kind: "prose" as const, words: ["What does not count here, and why:"] },
          {
            kind: "list" as const,
            items: out
              .slice(0, MOST_TOLD)
              .map(({ text, why }) => [`${text || "Some runs"}: ${why}.`]),
          },
        ]
      : []),
  ];
}

/** Who is cleared, by which run, and who is not. */
function standings(
  { rig, drill, direction }: Located,
  reaches: readonly Carried[],
  { rates, letter }: Matter,
): Block {
  return {
    kind: "table",
    table: {
      key: `standing-${letter(rig.id)}-${drill.name}-${direction}`,
      title: `What rig ${letter(rig.id)} is made of, and what that was shown to carry`,
      note: `The most that passed in this drill and direction, ${rates.unit}. Cleared: clearly more than this rig gave.`,
      columns: [
        { name: "what" },
        { name: "state" },
        { name: "shown to carry", figure: true },
        { name: "by rig" },
      ],
      rows: reaches.map(({ site, state, shown, onlyWith }): Cell[] => [
        words(site.name),
        words(
          onlyWith.length > 0
            ? `${STATE_WORDS[state]}: ${onlyWith.map(({ name }) => name).join(", ")}`
            : STATE_WORDS[state],
        ),
        shown
          ? {
              text: rates.rate(shown.mbps),
              value: inUnit(shown.mbps, rates.unit),
              ...(shown.trial.measurementIds[0]
                ? { run: anchorOf(shown.trial.measurementIds[0]) }
                : {}),
            }
          : words("nothing yet"),
        words(shown ? `${letter(shown.trial.rig.id)} ${shown.trial.rig.name}` : "–"),
      ]),
    },
  };
}

/** What each set-up that was measured changed, in the order in which they were. */
function history(steps: readonly ArgumentStep[], { rates, letter }: Matter): Block[] {
  if (steps.length < 2) return [];
  return [
    { kind: "prose", words: ["How the argument went, run by run:"] },
    {
      kind: "list",
      items: steps.map(({ rig, differs, observedMBps, after, ruledOut, measurementIds: [run] }) => [
        `Rig ${letter(rig.id)}${differs.length > 0 ? ` (${differs.join(", ")})` : ""} gave `,
        { text: rates.said(observedMBps), ...(run ? { run: anchorOf(run) } : {}) },
        `: ${after.name} then was ${likelihoodWords(after.probability)}${ruledOut.length > 0 ? `; ruled out: ${ruledOut.join(", ")}` : ""}.`,
      ]),
    },
  ];
}

const spoken = (side: string, { text, measurementIds: [run] }: Evidence): Inline[] => [
  `${side}: ${text} `,
  ...(run ? [{ text: "The run", run: anchorOf(run) }] : []),
];
