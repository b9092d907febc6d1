/** What rigs are laid out by, along one edge of a matrix. */
export const AXES = {
  drive: "drive",
  enclosure: "enclosure",
  "host-port": "host port",
  cable: "cable",
  hub: "hub",
  adapter: "adapter",
  "network-box": "NAS or router",
  drives: "number of drives",
  "file system": "file system",
} as const;
export type Axis = keyof typeof AXES;
