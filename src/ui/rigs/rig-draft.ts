import type { Part } from "@/core/chain/part";
import type { Rig, RigDraft } from "@/core/chain/rig";

/** What a rig is stored as. */
export function draftOf({ id: _, parts, beside, other, ...rest }: Rig): RigDraft {
  const ids = (list: Part[]) => list.map(({ id }) => id);
  const name = rest.name || parts.map((part) => part.name).join(" · ");
  const here = new Set(ids([...parts, ...beside, ...other]));
  return {
    ...rest,
    name: name.slice(0, 80),
    partIds: ids(parts),
    besideIds: ids(beside),
    otherIds: ids(other),
    // What was said of a link whose part has left goes with it.
    settled: rest.settled.filter(({ partId }) => here.has(partId)),
    held: rest.held.filter(({ partId }) => here.has(partId)),
  };
}
