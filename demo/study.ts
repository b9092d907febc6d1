import type { RigInput } from "@/core/chain/rig";
import type { DrillDirection } from "@/core/drills/kind";
import type { StudyFileInput } from "@/core/exchange/study-file";
import type { Fault } from "@/core/simulate/model";

/** A study of the demo: what its rigs are, what is really wrong with them, and what was measured. */
export interface DemoStudy {
  id: string;
  title: string;
  /** What it shows, in a sentence for the first page. */
  notes: string;
  demands?: StudyFileInput["demands"];
  rigs: (RigInput & { id: string })[];
  /** What the team does not know and the simulated bench does, by rig. */
  faults?: Record<string, Fault[]>;
  runs: {
    rigs: string[];
    drill: { name: string; directions: DrillDirection[]; [setting: string]: unknown };
    /** The sample recording that is done again. */
    recording?: string;
    /** How full the drive was, 0 to 1; what the truth says where it is left out. */
    filled?: number;
  }[];
}
