import { keptModes } from "../../chain/kept-modes";
import { drivenLink, usualTransport } from "../../chain/link";
import type { Part } from "../../chain/part";
import { replacePart, rigProblems, type Rig } from "../../chain/rig";
import { TRANSPORT_NAMES } from "../../ledger/account";
import type { TransportId } from "../../ledger/mode";
import { linkProblems } from "../../chain/bottleneck";
import { minutesFor, USUAL_OPINION, type MinutesOf, type Opinion } from "../hypotheses/opinion";
import type { RunState } from "../hypotheses/run-state";

/** One thing that can be done to a rig with what is on the shelf. */
export interface Change {
  kind: "exchange" | "without" | "fileSystem" | "transport" | "host" | "bay" | RunState | "drill";
  /** What is done, as an order: "put K5 in place of K2". */
  text: string;
  /** The rig that is changed. */
  base: Rig;
  /** The rig after it. */
  rig: Rig;
  /** States of its drive that the rig is then still in, which may hold it back. */
  states?: readonly RunState[];
  /** Minutes of work, without the measuring. */
  minutes: number;
}

/** Which values a condition can take on this bench. */
export interface Choices {
  fileSystems: readonly string[];
  hosts: readonly string[];
  /** The ids of the ports that were seen at each computer, by its name. */
  ports?: ReadonlyMap<string, ReadonlySet<string>>;
  /** The bays of each box that were named, by its id. */
  bays?: ReadonlyMap<string, readonly string[]>;
}

/** What a part is called beside one that may bear the same name. */
const besides = ({ name, tag, serial }: Part, other: Part): string =>
  name === other.name ? `another ${name}${tag || serial ? ` (${tag || serial})` : ""}` : name;

/**
 * Every single change of a rig that can be made with what is at hand, and that links. Taking out a hub
 * with its cable is one change; a cable between two parts that stay is exchanged, not left out.
 *
 * @param opinion the tester's own minutes, where they differ from the usual ones
 */
export function changesOf(
  rig: Rig,
  shelf: readonly Part[],
  { fileSystems, hosts, ports: seenAt, bays }: Choices,
  opinion: Opinion = USUAL_OPINION,
): Change[] {
  const makes = (kind: Change["kind"], text: string, changed: Rig, of: MinutesOf): Change[] => {
    const made = { ...changed, id: "", name: nameOf(changed) };
    const sound = rigProblems(made).length === 0 && linkProblems(made).length === 0;
    return sound ? [{ kind, text, base: rig, rig: made, minutes: minutesFor(opinion, of) }] : [];
  };
  const others = (values: readonly string[], now: string) =>
    values.filter((value) => value && now && value.toLowerCase() !== now.toLowerCase());
  return [
    ...exchanges(rig, shelf).flatMap(({ out, put }) =>
      makes(
        "exchange",
        `put ${besides(put, out)} in place of ${out.name}`,
        keptModes(replacePart(rig, out, put), rig),
        out.kind,
      ),
    ),
    ...withouts(rig).flatMap(({ out, parts }) => {
      const names = out.map(({ name }) => name).join(" and ");
      return makes("without", `take out ${names}`, keptModes({ ...rig, parts }, rig), "without");
    }),
    // Of a share the drive lies at the far side of the network, where nobody here formats it.
    ...(isShare(rig) ? [] : others(fileSystems, rig.fileSystem)).flatMap((fileSystem) =>
      makes(
        "fileSystem",
        `format the drive with ${fileSystem}`,
        { ...rig, fileSystem },
        "fileSystem",
      ),
    ),
    ...otherTransports(rig).flatMap((transport) =>
      makes(
        "transport",
        `use the driver mode ${TRANSPORT_NAMES[transport]}`,
        { ...rig, transport },
        "transport",
      ),
    ),
    ...others(bays?.get(rig.parts.at(-2)?.id ?? "") ?? [], rig.bay).flatMap((bay) =>
      makes("bay", `move ${rig.parts.at(-1)!.name} to bay ${bay}`, { ...rig, bay }, "bay"),
    ),
    ...others(hosts, rig.host).flatMap((host) => {
      const at = (port: Part | null) =>
        makes(
          "host",
          `connect it to ${host}${port ? `, at ${port.name}` : ""}`,
          keptModes({ ...(port ? replacePart(rig, rig.parts[0]!, port) : rig), host }, rig),
          "host",
        );
      const ports = portsOn(host, rig, shelf, seenAt);
      return ports.map(at).find((made) => made.length > 0) ?? at(null);
    }),
  ];
}

const nameOf = ({ parts }: Rig) =>
  parts
    .map(({ name }) => name)
    .join(" · ")
    .slice(0, 80);

/**
 * The ports of a shelf at which a rig can be connected to another computer, since a port stays with its own:
 * those that were seen there, else those that were seen nowhere; none where the rig's own was seen there.
 */
function portsOn(
  host: string,
  { parts: [own], parts }: Rig,
  shelf: readonly Part[],
  seen: Choices["ports"] = new Map(),
): Part[] {
  const there = seen.get(host);
  if (!own || there?.has(own.id)) return [];
  const somewhere = new Set([...seen.values()].flatMap((ids) => [...ids]));
  const stands = new Set(parts.map(({ id }) => id));
  return shelf.filter(
    ({ id, kind }) =>
      kind === own.kind && !stands.has(id) && (there ? there.has(id) : !somewhere.has(id)),
  );
}

/** Each part with each other of its kind. */
function exchanges(rig: Rig, shelf: readonly Part[]): { out: Part; put: Part }[] {
  const used = new Set([...rig.parts, ...rig.beside, ...rig.other].map(({ id }) => id));
  return [...rig.parts, ...rig.other].flatMap((out) =>
    shelf.filter(({ id, kind }) => kind === out.kind && !used.has(id)).map((put) => ({ out, put })),
  );
}

/** The chain without a hub or an adapter, and without one of the cables that lead to it. */
function withouts({ parts }: Rig): { out: Part[]; parts: Part[] }[] {
  return parts.flatMap((part, i) => {
    if (part.kind !== "hub" && part.kind !== "adapter") return [];
    const [above, below] = [parts[i - 1], parts[i + 1]];
    const options = [
      ...(below?.kind === "cable" ? [[part, below]] : []),
      ...(above?.kind === "cable" ? [[above, part]] : []),
      ...(above?.kind !== "cable" || below?.kind !== "cable" ? [[part]] : []),
    ];
    return options.map((out) => ({ out, parts: parts.filter((one) => !out.includes(one)) }));
  });
}

/** The other driver modes that a rig can be run in. */
function otherTransports(rig: Rig): TransportId[] {
  const free = drivenLink(rig);
  const offers = free?.mode?.transports.map(({ id }) => id) ?? [];
  const now = rig.transport ?? (free && usualTransport(free));
  return offers.filter((id) => id !== now);
}

const isShare = ({ parts }: Rig): boolean => parts.some(({ kind }) => kind === "network-box");
