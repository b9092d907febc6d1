import { PartDraft } from "../chain/part";
import type { Rig } from "../chain/rig";

/** A part as a study's file has it, without what the shelf keeps beside it. */
export const plainPart = (part: Rig["parts"][number]) => ({
  id: part.id,
  ...PartDraft.parse(part),
});

/** A rig with its parts as a study's file has them. */
export const plainRig = ({ parts, beside, other, ...rest }: Rig) => ({
  ...rest,
  parts: parts.map(plainPart),
  beside: beside.map(plainPart),
  other: other.map(plainPart),
});
