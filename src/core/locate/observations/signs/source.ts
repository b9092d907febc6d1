import { formatPercent } from "../../../units/number";
import { slowSideOf } from "../copy-sides";
import type { Observation } from "../observation";
import { sitesOf, type Site } from "../../hypotheses/site";
import { signature, type Sign, type Signature } from "./sign";

/** The side that was waited for: its parts, and whether it is the one of the rig's own drive. */
interface Near {
  ids: readonly string[];
  ofRig: boolean;
}

/** A side that was never waited for may still be what limits, so seldom. */
const LEAST_IDLE = 0.01;
/** How often a host that limits a copy makes it wait for one side alone. */
const BY_HOST = 0.15;

/**
 * That a copy mostly waits for one of its sides: what stands there holds it back, not the other. A side
 * that is not waited for stands idle for a part of the time, so that it could do more; the more of the
 * waiting is for one side, the surer that is.
 */
const waitsFor = (near: Near, state: "copySource" | "copyTarget" | null, share: number): Sign => {
  const idle = Math.max(LEAST_IDLE, (1 - share) / 2);
  return {
    chance: ({ parts, kind }: Site) => {
      if (kind === state) return 1 - idle;
      // The host and its processor stand at both ends.
      if (kind === "processor") return null;
      if (kind === "host") return BY_HOST;
      const waited =
        parts.length === 0 ? near.ofRig : parts.every(({ id }) => near.ids.includes(id));
      return waited ? 1 - idle : idle;
    },
    otherwise: 0.5,
  };
};

/** Where a copy waited: between two ends of a rig, or between a rig and a folder outside it. */
export function source({ rig, drill, results = [], measurementIds }: Observation): Signature[] {
  const slow = slowSideOf(results);
  if (!slow) return [];
  const isSource = slow.side === "from";
  const here = (drill.direction === "read") === isSource;
  const near: Near = {
    ids: (here ? rig.parts : rig.other).map(({ id }) => id),
    ofRig: here,
  };
  const outside = !here && rig.other.length === 0;
  const sign = waitsFor(
    near,
    outside ? (isSource ? "copySource" : "copyTarget") : null,
    slow.share,
  );
  const text = `The copy waited for its ${isSource ? "source" : "target"} for ${formatPercent(slow.share)} of the time that it stood still.`;
  const clears = sitesOf(rig)
    .filter(({ parts }) => parts.length > 0 && !parts.some(({ id }) => near.ids.includes(id)))
    .map(({ key }) => key);
  return [{ ...signature(sign, rig, true, { text, measurementIds }), clears }];
}
