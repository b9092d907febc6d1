import type { Claim } from "../chain/claim";
import type { Part, PartKind } from "../chain/part";
import { BARE_RIG, type Rig } from "../chain/rig";

/** Short ways to make parts and rigs, for tests only. */

export const USB_20G = ["usb-480m", "usb-5g", "usb-10g", "usb-20g"];
export const USB_10G = USB_20G.slice(0, 3);
export const USB_5G = USB_20G.slice(0, 2);
export const PCIE = ["pcie-3.0-x1", "pcie-3.0-x2", "pcie-3.0-x4"];

export function part(
  kind: PartKind,
  name: string,
  connectors: Partial<Record<"up" | "down" | "through", string[]>>,
  more: { limits?: Part["limits"]; claims?: Claim[] } = {},
): Part {
  return {
    id: name,
    kind,
    name,
    maker: "",
    model: "",
    serial: "",
    tag: "",
    chip: "",
    firmware: "",
    lengthM: null,
    enduranceBytes: null,
    photos: [],
    notes: "",
    connectors: Object.entries(connectors).map(([side, modes]) => ({
      side: side as "up" | "down" | "through",
      modes,
    })),
    limits: more.limits ?? {},
    requestUs: {},
    claims: more.claims ?? [],
    capacityBytes: null,
    cacheBytes: null,
    price: null,
  };
}

export const port = (modes = USB_20G, name = "port") => part("host-port", name, { down: modes });
export const cable = (modes = USB_20G, name = "cable") => part("cable", name, { through: modes });
export const hub = (modes: string[], name = "hub") => part("hub", name, { up: modes, down: modes });
export const enclosure = (claims: Claim[] = [], name = "box") =>
  part("enclosure", name, { up: USB_10G, down: PCIE.slice(0, 2) }, { claims });
export const drive = (limits: Part["limits"] = { read: 3400, write: 3000 }, name = "drive") =>
  part("drive", name, { up: PCIE }, { limits });

export function rig(parts: Part[], name = "rig", more: Partial<Rig> = {}): Rig {
  return { ...BARE_RIG, id: name, name, parts, ...more };
}

/** A link of a stated rate, and a drive behind it: the simplest rig there is. */
export const statedRig = (mbps: number, name = "stated") =>
  rig(
    [
      part("host-port", "socket", { down: [`stated-${mbps}`] }),
      part("drive", "disk", { up: [`stated-${mbps}`] }, { limits: { read: 5000, write: 5000 } }),
    ],
    name,
  );
