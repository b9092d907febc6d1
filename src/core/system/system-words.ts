import { TRANSPORT_NAMES } from "../ledger/account";
import { findMode } from "../ledger/catalogue";
import { formatSize } from "../units/size";
import { chipWords } from "./cable-chip";
import { TEXT_OF } from "./pasted/made";
import {
  factOf,
  type SeenBlock,
  type SeenCable,
  type SeenLink,
  type SeenNode,
  type SeenWay,
  type SystemReport,
} from "./system-report";

/** What a system's report says, in lines of text. */

/** Kinds whose directory's name tells one from another of the same name: an address, a USB path. */
const ADDRESSED: SeenNode["kind"][] = [
  "pci-controller",
  "pcie-port",
  "usb-root",
  "usb-hub",
  "usb-device",
  "thunderbolt",
  "sas-expander",
  "nvme",
];

/** Where the system has a node: "0000:00:1c.4", "2-3.2.4"; null where its name says it. */
export function addressOf({ kind, at, name }: SeenNode): string | null {
  const address = at.split("/").at(-1) ?? "";
  return ADDRESSED.includes(kind) && address && !name.includes(address) ? address : null;
}

/** How a link runs, with the name that the ledger has for it: "5000 Mb/s (USB 5 Gb/s)". */
export function linkWords({ mode, now, mostMode, most }: SeenLink): string {
  const named = (words: string, id: string | null) => {
    const known = id && findMode(id)?.name;
    return known && known !== words ? `${words} (${known})` : words;
  };
  const limit = most && most !== now ? `, at most ${named(most, mostMode)}` : "";
  return named(now, mode) + limit;
}

/** A link by the name that the ledger has for it; else as the system says it. */
export const linkName = ({ mode, now }: Pick<SeenLink, "mode" | "now">): string =>
  (mode && findMode(mode)?.name) || now;

/** What there is to say of a node beside its name and link. */
export function nodeDetails(node: SeenNode): string[] {
  const { driver, serial } = node;
  const said = (what: string, words: (value: string) => string) => {
    const value = factOf(node, what)?.value;
    return value ? [words(value)] : [];
  };
  return [
    ...said("most it can do", (value) => `can do ${value}`),
    ...said("most the port can do", (value) => `can do ${value}`),
    ...said("limit set at start", (value) => `held to ${value} at start`),
    ...said("limit after errors", (value) => `slowed to ${value} after errors`),
    ...said("its other half", (value) => `other half at ${value}`),
    ...said("carried over", (value) => (value === "pcie" ? "" : `carried over ${value}`)),
    ...said("requests at once", (value) => `queue depth ${value}`),
    ...(driver ? [`driver ${driver}`] : []),
    ...(serial ? [`serial ${serial}`] : []),
  ].filter(Boolean);
}

function nodeLine(node: SeenNode): string {
  const { name, maker, link } = node;
  const address = addressOf(node);
  const called = maker && !name.startsWith(maker) ? `${name}, ${maker}` : name;
  const more = [...(link ? [`runs at ${linkWords(link)}`] : []), ...nodeDetails(node)];
  return `  ${called}${address ? ` [${address}]` : ""}${more.length > 0 ? `: ${more.join("; ")}` : ""}`;
}

/** What a block device is made of, where its kind does not say it: a volume's name, a RAID's level. */
function blockDetails(block: SeenBlock): string[] {
  const said = (what: string) => factOf(block, what)?.value;
  const level = said("RAID level");
  const chunk = Number.parseInt(said("chunk") ?? "");
  return [
    said("name"),
    said("kind of volume"),
    level && `${level} of ${said("members") ?? "?"}`,
    level && chunk > 0 && `chunk ${formatSize(chunk)}`,
    said("state"),
    said("backing file"),
  ].filter((words): words is string => Boolean(words));
}

/** A block device with what it is made of, its size, and what it lies on. */
export function blockLine(block: SeenBlock): string {
  const { name, kind, bytes, over } = block;
  const size = bytes ? `, ${formatSize(bytes, 1000)}` : "";
  const details = blockDetails(block);
  const more = details.length > 0 ? ` (${details.join(", ")})` : "";
  return `${name}: ${kind}${more}${size}${over.length > 0 ? ` on ${over.join(", ")}` : ""}`;
}

/** How requests travel a way: "through USB storage, queued". */
export const transportWords = ({ transport }: SeenWay): string =>
  transport ? ` by ${TRANSPORT_NAMES[transport]}` : "";

/** A cable that says itself what it is, and which device it leads to as far as that is known. */
export function cableLine({ port, chip, holds }: SeenCable): string {
  const where = holds
    ? `to ${holds.split("/").at(-1)}`
    : "the firmware does not tell what hangs on it";
  return `cable in ${port} (${where}): ${chip ? chipWords(chip) : "it has a chip that has not answered"}`;
}

/** Where a report comes from, where that is not this machine: "From the text of lsusb -t, not from this machine." */
export function originWords({ root }: Pick<SystemReport, "root">): string | null {
  if (root === "/") return null;
  return `${root.startsWith(TEXT_OF) ? `From the ${root}` : `Read below ${root}`}, not from this machine.`;
}

/** A whole report as lines for a terminal. */
export function reportLines(report: SystemReport): string[] {
  const { mount, blocks, raid, ways, cables, findings, gaps } = report;
  const spread =
    raid && !blocks.some(({ kind }) => kind === "raid") ? [`data spread as ${raid.level}`] : [];
  return [
    ...(mount ? [`${mount.point}: ${mount.type} on ${mount.source} (${mount.options})`] : []),
    ...spread,
    ...blocks.map(blockLine),
    ...ways.flatMap((way) => [
      "",
      `from the host to ${way.end}${transportWords(way)}:`,
      ...way.nodes.map(nodeLine),
    ]),
    ...(cables.length > 0 ? ["", ...cables.map(cableLine)] : []),
    ...(findings.length > 0 ? ["", "found:", ...findings.map(({ text }) => `  ${text}`)] : []),
    ...(gaps.length > 0
      ? ["", "not detected:", ...gaps.map(({ what, from, why }) => `  ${what} (${from}): ${why}`)]
      : []),
  ];
}
