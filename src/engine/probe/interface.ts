import { ethernetMode } from "@/core/system/modes";
import type { SeenNode } from "@/core/system/system-report";
import { blankNode } from "@/core/system/blank-node";
import type { SystemTree } from "./tree";

/** A network interface (Documentation/ABI/testing/sysfs-class-net). */
export async function readInterface(tree: SystemTree, name: string): Promise<SeenNode> {
  const at = (await tree.real(`/sys/class/net/${name}`)) ?? `/sys/class/net/${name}`;
  const speed = await tree.read(`${at}/speed`);
  const radio = await tree.has(`${at}/wireless`);
  const node = blankNode("network-interface", radio ? `${name} (Wi-Fi)` : name, at);
  if (speed && Number(speed) > 0) {
    node.link = {
      mode: radio ? null : ethernetMode(speed),
      now: `${speed} Mb/s`,
      mostMode: null,
      most: null,
      from: [`${at}/speed`],
    };
  } else tree.miss("speed of the network", `${at}/speed`, "the interface does not say");
  node.facts.push(
    ...(await tree.fact("duplex", `${at}/duplex`)),
    ...(await tree.fact("MTU", `${at}/mtu`, "B")),
    ...(await tree.fact("state", `${at}/operstate`)),
  );
  const bound = await tree.driver(`${at}/device`);
  return { ...node, driver: bound[0]?.value ?? null, facts: [...node.facts, ...bound] };
}
