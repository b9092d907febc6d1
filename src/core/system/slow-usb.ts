import { factOf, type Fact, type SeenNode, type SystemFinding } from "./system-report";

const speedOf = (words: string | undefined) => Number.parseInt(words ?? "");

/**
 * A USB device at 480 Mb/s or less that is made for more, or that stands in a socket which could do
 * more. The half of a USB 3 hub that speaks USB 2 always runs at 480: it is sound while its other
 * half is there.
 */
export function slowUsb(node: SeenNode, above: readonly SeenNode[]): SystemFinding[] {
  if (node.kind !== "usb-device" && node.kind !== "usb-hub") return [];
  if (!(speedOf(node.link?.now) <= 480) || factOf(node, "its other half")) return [];
  const half = factOf(node, "other half of its socket");
  const hub = above.findLast(({ kind }) => kind === "usb-hub");
  const slowHub =
    hub && speedOf(hub.link?.now) <= 480 && !factOf(hub, "its other half") ? hub : undefined;
  const made = madeForMore(node);
  if (made === "no") return half ? [slowInFast(node, half)] : [];
  const because = slowHub
    ? `; ${slowHub.name} above it runs at ${slowHub.link!.now}`
    : half
      ? `; the socket’s other half runs at ${half.value}, so look at the cable and the plug`
      : "";
  const version = factOf(node, "USB version of the device");
  const own = factOf(node, "made for USB 3");
  const [source, words] =
    made === "perhaps"
      ? [
          version!,
          `and says USB version ${version!.value}, as devices of USB 3 do at this speed, but some of USB 2 do so too`,
        ]
      : own?.value === "yes"
        ? [own, "though it says that it can do 5 Gb/s or more"]
        : [
            version!,
            `though it says USB version ${version!.value}, which only devices of USB 3 do`,
          ];
  const from = [source.from, ...node.link!.from, ...(half ? [half.from] : [])];
  return [
    {
      what:
        made === "yes"
          ? "runs slower than the device is made for"
          : "may run slower than the device is made for",
      text: `${node.name} runs at ${node.link!.now} ${words}${because}.`,
      from,
    },
  ];
}

/**
 * Whether a device at 480 Mb/s is made for USB 3. Its own capabilities tell, and a version of 3.0 or
 * later. Version 2.10 is what devices of USB 3 have to say at that speed (USB 3.2, device descriptor),
 * and not they alone; 2.01 is said by devices of USB 2 with power management.
 */
function madeForMore(node: SeenNode): "yes" | "no" | "perhaps" {
  const said = factOf(node, "made for USB 3")?.value;
  if (said === "yes" || said === "no") return said;
  const version = Number(factOf(node, "USB version of the device")?.value);
  return version >= 3 ? "yes" : version >= 2.1 ? "perhaps" : "no";
}

/** A device of USB 2 in a socket that could do more: what hangs behind it cannot be faster. */
function slowInFast({ name, kind, link }: SeenNode, half: Fact): SystemFinding {
  const behind = kind === "usb-hub" ? ": nothing behind it can be faster" : "";
  return {
    what: "slow device in a fast socket",
    text: `${name} runs at ${link!.now}, as it is made for USB 2, though its socket’s other half runs at ${half.value}${behind}.`,
    from: [...link!.from, half.from],
  };
}
