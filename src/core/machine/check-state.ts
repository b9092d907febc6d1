import type { MachineCheck } from "./check";

/** How the check of a machine stands. */
export interface CheckState {
  /** The latest; null where there is none. */
  check: MachineCheck | null;
  /** The kernel that runs there now, as far as it is known. */
  kernel: string | null;
  /** What is being checked now, whichever machine; null where none is. */
  going: { machine: string; step: number; of: number; secondsLeft: number } | null;
  /** Why the latest check of this machine came to nothing; null where it did not. */
  trouble: string | null;
}
