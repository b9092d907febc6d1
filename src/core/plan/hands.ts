import { differences } from "../chain/difference";
import type { Part } from "../chain/part";
import type { Rig } from "../chain/rig";
import { TRANSPORT_NAMES } from "../ledger/account";

/**
 * What to change on the bench to come from one rig to another, in a line: "take out K2, put in K5, same
 * port". A port is not taken out: another one is used. Of several rigs that are put together, the change
 * begins at the one that needs the fewest.
 *
 * @param plugged the rigs that are put together now and are in the way; none where nothing is known
 */
export function handsWords(plugged: readonly Rig[], next: Rig): string {
  const [before] = plugged.toSorted(
    (a, b) => differences(a, next).length - differences(b, next).length,
  );
  if (!before) return `plug in ${next.parts.map(({ name }) => name).join(", ")}`;
  const found = differences(before, next);
  const isPort = (part: Part | null | undefined) => part?.kind === "host-port";
  const parts = found.flatMap((one) =>
    one.kind === "part" && !isPort(one.a) && !isPort(one.b) ? [one] : [],
  );
  const ports = [before, next].map((rig) => rig.parts[0]!);
  const out = parts.flatMap(({ a, b }) => (a && a.id !== b?.id ? [called(a)] : []));
  const into = parts.flatMap(({ b }) => (b ? [called(b)] : []));
  const swaps = [
    ...(out.length > 0 ? [`take out ${out.join(", ")}`] : []),
    ...(into.length > 0 ? [`put in ${into.join(", ")}`] : []),
  ];
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
  ];
  if (!samePort) swaps.push(`plug into ${called(port)}`);
  if (swaps.length === 0 && others.length === 0) return `plug in ${next.name} again`;
  return [...swaps, ...(swaps.length > 0 && samePort ? ["same port"] : []), ...others].join(", ");
}

const called = ({ name, tag }: { name: string; tag: string }) => (tag ? `${name} (${tag})` : name);
