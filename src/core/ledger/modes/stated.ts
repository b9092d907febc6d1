import type { LinkMode } from "../mode";

const PREFIX = "stated-";

/**
 * A link whose payload rate the tester states, because no standard fixes it: radio, a throttled
 * device, a leased line. Its identifier carries the rate: "stated-40" is 40 MB/s each way.
 *
 * @returns the mode, or null when the identifier is not of this kind or its rate is absurd
 */
export function statedMode(id: string): LinkMode | null {
  if (!id.startsWith(PREFIX)) return null;
  const text = id.slice(PREFIX.length);
  const mbps = Number(text);
  if (!/^\d+(\.\d+)?$/.test(text) || !(mbps > 0 && mbps <= 1e6)) return null;
  return {
    id,
    name: `Stated rate, ${text} MB/s`,
    formal: "link of a stated payload rate",
    short: `${text} MB/s`,
    family: "stated",
    gigatransfers: (mbps * 8) / 1e3,
    signallingSource: "stated by the tester",
    lanes: 1,
    lineCode: "none",
    duplex: "full",
    shared: false,
    framing: [],
    assumptions: {},
    transports: [
      {
        id: "stated",
        read: [0.9, 1],
        write: [0.9, 1],
        source: "a stated rate is taken as payload; a tenth is allowed for protocol",
      },
    ],
  };
}

/** The identifier of a stated link. @param mbps payload rate each way, MB/s */
export const statedModeId = (mbps: number) => `${PREFIX}${mbps}`;
