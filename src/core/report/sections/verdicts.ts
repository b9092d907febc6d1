import { claimWords } from "../../chain/claim";
import type { Judged } from "../../judge/judged";
import { formatPercent } from "../../units/number";
import { anchorOf, words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** Every claim, what it is worth, and why that holds. */
export function verdictsSection(matter: Matter): Block[] {
  const { judged, rates, letter, filed } = matter;
  if (judged.length === 0)
    return [{ kind: "prose", words: ["No part of this study claims anything."] }];
  const first = (one: Judged) => one.seen?.measurementIds[0];
  return [
    {
      kind: "prose",
      words: [
        `A claim counts as kept from ${formatPercent(1 - filed.study.tolerance)} of it on. A part falls short where runs have shown every other part of its rig to carry clearly more than the claim. It also does where all runs together give the part 95 % or more.`,
      ],
    },
    {
      kind: "table",
      table: {
        key: "verdicts",
        title: "Claims and verdicts",
        note: `Tolerance ${formatPercent(filed.study.tolerance)}; medians, ${rates.unit}.`,
        columns: [
          { name: "part" },
          { name: "claim" },
          { name: "verdict" },
          { name: "measured", figure: true },
          { name: "rig" },
        ],
        rows: judged.map((one): Cell[] => [
          words(one.part.name),
          words(claimWords(one.claim, rates)),
          words(verdictWords(one)),
          one.observed
            ? { ...rateCell(one, matter), ...(first(one) ? { run: anchorOf(first(one)!) } : {}) }
            : words("not measured"),
          words(one.rig ? `${letter(one.rig.id)} ${one.rig.name}` : "–"),
        ]),
      },
    },
    ...judged.flatMap((one) => reasonsFor(one, matter)),
  ];
}

const rateCell = ({ observed, claim }: Judged, { rates }: Matter): Cell =>
  claim.kind === "iops"
    ? words("see figures")
    : { text: rates.rate(observed!.median), value: observed!.median };

const verdictWords = ({ kind, shortBy, impossible }: Judged) =>
  `${kind}${shortBy === null ? "" : ` by ${formatPercent(shortBy)}`}${impossible.length > 0 ? "; impossible on its link" : ""}`;

function reasonsFor(one: Judged, { rates, letter }: Matter): Block[] {
  const { part, claim, reasons, impossible, settle, challenge, seen } = one;
  const shown = challenge.filter((other) => other.shown);
  const unshown = challenge.filter((other) => !other.shown).map(({ name }) => name);
  const run = seen?.measurementIds[0];
  const said = [...new Set([...impossible, ...reasons])];
  const items: Block & { kind: "list" } = {
    kind: "list",
    items: [
      ...said.map((text, i) =>
        run && i === 0 ? [`${text} `, { text: "The runs", run: anchorOf(run) }] : [text],
      ),
      // What passed, passed: who else could carry it matters only where it did not.
      ...(one.kind !== "Delivers" && shown.length > 0
        ? [
            [
              "Runs have shown these to carry clearly more: ",
              ...shown.flatMap(({ name, shown: by }, i) => [
                `${i > 0 ? "; " : ""}${name} `,
                {
                  text: `${rates.said(by!.mbps)} in rig ${letter(by!.rig.id)}`,
                  run: anchorOf(by!.measurementIds[0]!),
                },
              ]),
              ".",
            ],
          ]
        : []),
      ...(unshown.length > 0 && one.kind === "Can't tell yet"
        ? [[`No run has shown what these carry: ${unshown.join(", ")}.`]]
        : []),
      ...settle.map(({ text }) => [`Would settle it: ${text.replace(/\.$/, "")}.`]),
    ],
  };
  return items.items.length === 0
    ? []
    : [{ kind: "heading", text: `${part.name}, ${claimWords(claim, rates)}: ${one.kind}` }, items];
}
