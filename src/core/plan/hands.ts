import { differences } from "../chain/difference";
import type { Rig } from "../chain/rig";
import { TRANSPORT_NAMES } from "../ledger/account";

/**
 * What to change on the bench to come from one rig to another, in a line: "take out K2, put in K5, same
 * port".
 *
 * @param before the rig that is put together now; null where none is known to be
 */
export function handsWords(before: Rig | null, next: Rig): string {
  if (!before) return `plug in ${next.parts.map(({ name }) => name).join(", ")}`;
  const found = differences(before, next);
  const parts = found.flatMap((one) => (one.kind === "part" ? [one] : []));
  const out = parts.flatMap(({ a, b }) => (a && a.id !== b?.id ? [called(a)] : []));
  const into = parts.flatMap(({ b }) => (b ? [called(b)] : []));
  const swaps = [
    ...(out.length > 0 ? [`take out ${out.join(", ")}`] : []),
    ...(into.length > 0 ? [`put in ${into.join(", ")}`] : []),
  ];
  const samePort = before.parts[0]?.id === next.parts[0]?.id;
  const others = [
    ...(next.fileSystem && next.fileSystem.toLowerCase() !== before.fileSystem.toLowerCase()
      ? [`with the file system ${next.fileSystem}`]
      : []),
    ...(next.transport && next.transport !== before.transport
      ? [`driven by ${TRANSPORT_NAMES[next.transport]}`]
      : []),
    ...(next.host && next.host !== before.host ? [`on ${next.host}`] : []),
  ];
  if (swaps.length === 0 && others.length === 0) return `plug in ${next.name} again`;
  return [...swaps, ...(swaps.length > 0 && samePort ? ["same port"] : []), ...others].join(", ");
}

const called = ({ name, tag }: { name: string; tag: string }) => (tag ? `${name} (${tag})` : name);
