import { differences } from "../chain/difference";
import { PART_KIND_NAMES, type Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { TRANSPORT_NAMES } from "../ledger/account";
import { plainNumber } from "../units/number";

/**
 * What to change on the bench to come from one rig to another: a line of what to unplug, and a line of what
 * to plug in, each part with the marks it is known by. A port is not unplugged: another one is used. Of several rigs that are put together, the change
 * begins at the one that needs the fewest.
 *
 * @param plugged the rigs that are put together now and are in the way; none where nothing is known
 */
export function handsWords(plugged: readonly Rig[], next: Rig): string {
  const [before] = plugged.toSorted(
    (a, b) => differences(a, next).length - differences(b, next).length,
  );
  if (!before) return `plug in ${next.parts.map(called).join(", ")}`;
  const found = differences(before, next);
  const isPort = (part: Part | null | undefined) => part?.kind === "host-port";
  const parts = found.flatMap((one) =>
    one.kind === "part" && !isPort(one.a) && !isPort(one.b) ? [one] : [],
  );
  const ports = [before, next].map((rig) => rig.parts[0]!);
  const out = parts.flatMap(({ a, b }) => (a && a.id !== b?.id ? [called(a)] : []));
  const into = parts.flatMap(({ b }) => (b ? [called(b)] : []));
  const [was, port] = ports as [Part, Part];
  const samePort = was.id === port.id;
  const others = [
    ...(next.fileSystem && next.fileSystem.toLowerCase() !== before.fileSystem.toLowerCase()
      ? [`with the file system ${next.fileSystem}`]
      : []),
    ...(next.mountedAs && next.mountedAs.toLowerCase() !== (before.mountedAs ?? "").toLowerCase()
      ? [`mounted as ${next.mountedAs}`]
      : []),
    ...(next.transport && next.transport !== before.transport
      ? [`driven by ${TRANSPORT_NAMES[next.transport]}`]
      : []),
    ...(next.host && next.host !== before.host ? [`on ${next.host}`] : []),
    ...(next.farHost && next.farHost !== before.farHost ? [`served by ${next.farHost}`] : []),
  ];
  const added = [
    ...(into.length > 0 ? [`plug in ${into.join(", ")}`] : []),
    ...(samePort ? [] : [`use port ${called(port)} instead of ${called(was)}`]),
  ];
  const there = [...added, ...(into.length > 0 && samePort ? ["same port"] : []), ...others].join(
    ", ",
  );
  const lines = [
    ...(out.length > 0 ? [`unplug ${out.join(", ")}`] : []),
    ...(there ? [there] : []),
  ];
  return lines.length > 0 ? lines.join("\n") : `plug in ${next.name} again`;
}

/** That several things change at once, and what each of them alone would take, in words. */
export function atOnceWords(changes: readonly { what: string; minutes: number }[]): string {
  const each = changes.map(({ what, minutes }) => `${what} ${plainNumber(minutes)} min`);
  const all = changes.reduce((sum, { minutes }) => sum + minutes, 0);
  return `${changes.length} things change at once, about ${plainNumber(all)} min by hand. Changing one at a time, with runs between, shows which of them matters: ${each.join(", ")}.`;
}

/** A part as it is found on the bench: its kind, its name, and the marks on it. */
function called({ kind, name, tag, lengthM }: Part): string {
  const marks = [tag, lengthM === null ? "" : `${plainNumber(lengthM)} m`].filter(Boolean);
  const what = kind === "host-port" ? name : `${PART_KIND_NAMES[kind]} ${name}`;
  return marks.length > 0 ? `${what} (${marks.join(", ")})` : what;
}
