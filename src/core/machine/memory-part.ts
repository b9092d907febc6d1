import { PartDraft, type Part } from "../chain/part";

/**
 * A machine's own memory in the place of a part: what it gave is all that is known of it.
 *
 * @param mbps what it gave, MB/s
 */
export const memoryPart = (
  kind: Part["kind"],
  name: string,
  side: "up" | "down",
  mbps: number,
): Part => ({
  ...PartDraft.parse({
    kind,
    name: name.slice(0, 80),
    connectors: [{ side, modes: [`stated-${Math.max(0.001, mbps).toFixed(3)}`] }],
  }),
  id: `${name} in a check`,
});
