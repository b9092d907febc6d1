import type { SeenNode } from "./system-report";

/** A node of which only its kind, name and place are known yet. */
export const blankNode = (kind: SeenNode["kind"], name: string, at: string): SeenNode => ({
  kind,
  name,
  at,
  maker: null,
  model: null,
  serial: null,
  link: null,
  driver: null,
  facts: [],
});
