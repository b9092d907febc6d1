import { fileSystemOf } from "../../chain/rig";
import { claimWords } from "../../chain/claim";
import { allLinks } from "../../chain/link";
import { PART_KIND_NAMES } from "../../chain/part";
import { TRANSPORT_NAMES } from "../../ledger/account";
import { formatNumber } from "../../units/number";
import { formatCapacity } from "../../units/size";
import { words, type Block, type Cell } from "../document";
import type { Matter } from "../matter";

/** Every rig with its links, and every part with what it claims and costs. */
export function gearSection({ filed, letter, rates }: Matter): Block[] {
  const { rigs, parts } = filed;
  const used = new Set(
    rigs.flatMap((rig) => [...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id)),
  );
  const priced = parts.some(({ price }) => price);
  return [
    {
      kind: "table",
      table: {
        key: "rigs",
        title: "Rigs",
        note: "From the host to the drive; each link with the mode it ran at, and who says so.",
        columns: ["rig", "parts", "links", "conditions"].map((name) => ({ name })),
        rows: rigs.map((rig): Cell[] => [
          words(`${letter(rig.id)} ${rig.name}`),
          words(rig.parts.map(({ name }) => name).join(" → ")),
          words(
            allLinks(rig)
              .map(({ lower, mode, settledBy }) =>
                mode
                  ? `to ${lower.name}: ${mode.short} (${settledBy ?? "negotiated"})`
                  : `to ${lower.name}: does not link`,
              )
              .join("; "),
          ),
          words(
            [
              fileSystemOf(rig) && `file system ${fileSystemOf(rig)}`,
              rig.host && `host ${rig.host}`,
              rig.farHost && `served by ${rig.farHost}`,
              rig.transport && TRANSPORT_NAMES[rig.transport],
              rig.bay && `bay ${rig.bay}`,
            ]
              .filter(Boolean)
              .join("; ") || "–",
          ),
        ]),
      },
    },
    {
      kind: "table",
      table: {
        key: "parts",
        title: "Parts",
        note: "Claims as printed.",
        columns: [
          ...["part", "kind", "maker and model", "claims", "capacity"].map((name) => ({ name })),
          ...(priced ? [{ name: "price", figure: true }] : []),
        ],
        rows: parts
          .filter(({ id }) => used.has(id))
          .map((part): Cell[] => [
            words(part.name),
            words(PART_KIND_NAMES[part.kind]),
            words([part.maker, part.model].filter(Boolean).join(" ") || "–"),
            words(part.claims.map((claim) => claimWords(claim, rates)).join("; ") || "–"),
            words(part.capacityBytes ? formatCapacity(part.capacityBytes).label : "–"),
            ...(priced
              ? [
                  part.price
                    ? {
                        text: `${formatNumber(part.price.amount, 2)} ${part.price.currency}`,
                        value: part.price.amount,
                      }
                    : words("–"),
                ]
              : []),
          ]),
      },
    },
  ];
}
