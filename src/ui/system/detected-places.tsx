import { Fragment } from "react";
import { PART_KIND_NAMES, type PartInput } from "@/core/chain/part";
import { enteredPart } from "@/core/gear/entry";
import { GEAR_KINDS } from "@/core/gear/gear-kind";
import type { FilledPlace, FilledRig } from "@/core/system/fill";
import { Select } from "../controls/select";
import { CELL, HEAD } from "../controls/table";
import { Sources } from "./sources";

/** A cable on the shelf, to be named where the system cannot see it. */
export interface ShelfCable {
  id: string;
  name: string;
  tag: string;
}

const NEW_CABLES = GEAR_KINDS.filter(({ kind }) => kind === "cable").map(
  (kind) => enteredPart(kind, "", "").draft,
);

/**
 * Each part of a rig that was detected, with where it is known from; between them the cables, which no system
 * sees: they are named by the tester, or stay unnamed.
 */
export function DetectedPlaces({
  filled: { chain, beside },
  cables,
  named,
  onCable,
}: {
  filled: FilledRig;
  cables: readonly ShelfCable[];
  /** What was said of the cable before each place, by the place. */
  named: Readonly<Record<number, string>>;
  onCable: (before: number, value: string) => void;
}) {
  return (
    <table className="w-full text-sm">
      <thead>
        <tr>
          <th className={HEAD}>place</th>
          <th className={HEAD}>part</th>
          <th className={HEAD}>known from</th>
          <th className={HEAD}>on the shelf</th>
        </tr>
      </thead>
      <tbody>
        {[...chain, ...beside].map((place, i) => (
          <Fragment key={`${place.node.at}-${i}`}>
            {i > 0 && i < chain.length && needsCable(chain[i - 1]!.draft, place.draft) && (
              <tr>
                <td className={CELL}>cable</td>
                <td className={CELL}>
                  <Select
                    label={`Cable from ${chain[i - 1]!.draft.name} to ${place.draft.name}`}
                    name={`cable-${i}`}
                    className="!w-auto max-w-72 !py-0.5"
                    value={named[i] ?? ""}
                    options={[
                      { value: "", text: "none, or not named yet" },
                      ...cables.map(({ id, name, tag }) => ({
                        value: `shelf:${id}`,
                        text: tag ? `${name} (${tag})` : name,
                      })),
                      ...NEW_CABLES.map(({ name }) => ({
                        value: `new:${name}`,
                        text: `a new ${name}`,
                      })),
                    ]}
                    onChange={(value) => onCable(i, value)}
                  />
                </td>
                <td className={`${CELL} text-secondary`}>not seen by any system: name it</td>
                <td className={CELL}>–</td>
              </tr>
            )}
            <DetectedPlace place={place} />
          </Fragment>
        ))}
      </tbody>
    </table>
  );
}

function DetectedPlace({ place: { node, part, by, draft } }: { place: FilledPlace }) {
  return (
    <tr>
      <td className={CELL}>{PART_KIND_NAMES[draft.kind]}</td>
      <td className={CELL}>
        {[draft.name, draft.maker, draft.serial].filter(Boolean).join(", ")}
        {node.link && <span className="block text-[13px] text-secondary">{node.link.now}</span>}
      </td>
      <td className={CELL}>
        <Sources from={[node.at, ...(node.link?.from ?? [])].slice(0, 2)} />
      </td>
      <td className={CELL}>
        {part ? `${part.name}, known by its ${by}` : "new: will be put on the shelf"}
      </td>
    </tr>
  );
}

/** The cable that was named: one of the shelf, or a new one. */
export function cableOf(value: string): { id: string } | { draft: PartInput } {
  if (value.startsWith("shelf:")) return { id: value.slice("shelf:".length) };
  const { kind, name, connectors } = NEW_CABLES.find((cable) => `new:${cable.name}` === value)!;
  return { draft: { kind, name, connectors } };
}

/** Whether a cable may stand between two neighbours: not where one is seen, nor inside a box. */
const needsCable = (upper: PartInput, lower: PartInput) =>
  upper.kind !== "cable" &&
  lower.kind !== "cable" &&
  !(upper.kind === "enclosure" && lower.kind === "drive");
