import { allLinks } from "./link";
import type { Rig } from "./rig";

/** Whether a rig reaches its drive over a network, so that another machine serves it. */
export const goesOverNetwork = (rig: Rig): boolean =>
  rig.parts.some(({ kind }) => kind === "network-box") ||
  allLinks(rig).some(({ mode }) => mode?.family === "ethernet");
