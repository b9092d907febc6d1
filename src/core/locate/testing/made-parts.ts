import type { Part } from "../../chain/part";
import type { Random } from "../../simulate/noise";
import { part } from "../../testing/rigs";
import { pick } from "./hidden-cause";

/** What a bench is made of. */
export interface MadeParts {
  /** From host to drive. */
  chain: Part[];
  /** What else lies on the shelf. */
  spares: Part[];
  /** What the links outside the box can run, the slowest first. */
  modes: string[];
}

const USB = ["usb-480m", "usb-5g", "usb-10g", "usb-20g"];
const NETWORK = ["ethernet-100m", "ethernet-1g", "ethernet-2.5g", "ethernet-5g"];
/** Parts at most, together. */
const MOST_PARTS = 12;

/**
 * The parts of a bench: a chain of three to six from host to drive, and as many spares as there is room
 * for on a table, or none.
 */
export function madeParts(random: Random): MadeParts {
  let count = 0;
  const make = (kind: Part["kind"], ...rest: [Parameters<typeof part>[2], object?]) =>
    part(kind, `${kind}-${++count}`, ...rest);
  const network = random() < 0.26;
  // A drive whose case does not open.
  const closed = !network && random() < 0.2;
  const family = network ? NETWORK : USB;
  const modes = family.slice(0, random() < 0.7 ? 3 : 4);
  const inner = network ? "sata-6g" : modes.length === 4 ? "pcie-3.0-x4" : "pcie-3.0-x2";
  const port = () => make("host-port", { down: modes });
  const cable = () => make("cable", { through: modes });
  const hub = () => make("hub", { up: modes, down: modes });
  const adapter = () => make("adapter", { up: modes, down: modes });
  const box = () => make(network ? "network-box" : "enclosure", { up: modes, down: [inner] });
  const drive = () =>
    make(
      "drive",
      { up: closed ? modes : [inner] },
      random() < 0.4 ? { limits: { read: network ? 540 : 3500 } } : {},
    );

  const between = network ? null : pick(random, ["hub", "hub", "adapter", "adapter", null]);
  const chain = [
    port(),
    cable(),
    ...(between === "hub" ? [hub(), cable()] : between === "adapter" ? [adapter(), cable()] : []),
    ...(closed ? [] : [box()]),
    drive(),
  ];
  const makers = {
    "host-port": port,
    cable,
    hub,
    adapter,
    enclosure: box,
    "network-box": box,
    drive,
  };
  const room = MOST_PARTS - chain.length;
  const spares = Array.from({ length: Math.floor(random() * (room + 1)) }, () =>
    makers[pick(random, chain).kind](),
  );
  return { chain, spares, modes };
}
