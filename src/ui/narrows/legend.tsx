import { STATE_SIGNS } from "@/core/locate/findings/carried";
import type { Direction } from "@/core/units/rate";

/** What the drawing's lines and fills mean. */
export function Legend({
  direction,
  held = false,
  flow = true,
  predicted = false,
  states = false,
  likely = false,
  host = false,
}: {
  direction: Direction;
  /** Whether others hold a share of some link that is drawn. */
  held?: boolean;
  /** Whether a measured flow is drawn. */
  flow?: boolean;
  /** Whether some rig is drawn without a flow. */
  predicted?: boolean;
  /** Whether parts of some rig are marked as cleared or suspect. */
  states?: boolean;
  /** Whether some part is likely what limits its rig, and not shown to. */
  likely?: boolean;
  /** Whether the host of some rig is drawn. */
  host?: boolean;
}) {
  return (
    <ul className="flex flex-wrap gap-x-6 gap-y-1 text-[13px] text-secondary" aria-label="Legend">
      {flow && (
        <li className="flex items-center gap-2">
          <svg width="22" height="10" aria-hidden>
            <defs>
              <pattern id="legend-write" width="6" height="6" patternUnits="userSpaceOnUse">
                <path
                  d="M-1.5 4.5 L4.5 -1.5 M1.5 7.5 L7.5 1.5"
                  stroke="var(--flow)"
                  strokeWidth="2.2"
                />
              </pattern>
            </defs>
            <rect
              width="22"
              height="10"
              fill={direction === "read" ? "var(--flow)" : "url(#legend-write)"}
              stroke="var(--flow)"
            />
          </svg>
          measured flow, {direction === "read" ? "reading" : "writing"}
        </li>
      )}
      <li className="flex items-center gap-2">
        <svg width="22" height="10" aria-hidden>
          <path d="M0 1 H22 M0 9 H22" stroke="var(--ink)" />
        </svg>
        ceiling of the stage (width ∝ rate^0.42)
      </li>
      {flow && (
        <li className="flex items-center gap-2">
          <svg width="22" height="10" aria-hidden>
            <path d="M0 2 H22 M0 8 H22" stroke="var(--bottleneck)" strokeWidth="3" />
          </svg>
          the bottleneck
        </li>
      )}
      {likely && (
        <li className="flex items-center gap-2">
          <svg width="22" height="10" aria-hidden>
            <path
              d="M0 2 H22 M0 8 H22"
              stroke="var(--ink)"
              strokeWidth="2.5"
              strokeDasharray="2 3"
            />
          </svg>
          likely the bottleneck
        </li>
      )}
      {predicted && (
        <li className="flex items-center gap-2">
          <svg width="22" height="10" aria-hidden>
            <path
              d="M0 2 H22 M0 8 H22"
              stroke="var(--bottleneck)"
              strokeWidth="3"
              strokeDasharray="5 3"
            />
          </svg>
          the bottleneck, predicted
        </li>
      )}
      <li className="flex items-center gap-2">
        <svg width="22" height="10" aria-hidden>
          <path d="M0 1 H22 M0 9 H22" stroke="var(--secondary)" strokeDasharray="1.5 3.5" />
        </svg>
        width lost: the part could carry more
      </li>
      {host && (
        <li>
          <span className="figure">≥</span> moved in the host’s own memory; the host may carry more
        </li>
      )}
      {states && (
        <li>
          <span className="figure">{STATE_SIGNS.cleared}</span> cleared,{" "}
          <span className="figure">{STATE_SIGNS.suspect}</span> suspect,{" "}
          <span className="figure">{STATE_SIGNS.untried}</span> never tried without a suspect
        </li>
      )}
      {held && (
        <li className="flex items-center gap-2">
          <svg width="22" height="10" aria-hidden>
            <rect width="22" height="10" fill="var(--secondary)" opacity={0.4} />
          </svg>
          used by other devices
        </li>
      )}
    </ul>
  );
}
