import type { NetworkFigures } from "./figures";

/** How the networks to a host stand: what they carried, and what is being measured. */
export interface NetworkState {
  /** By the machine at this end, the latest first. */
  figures: NetworkFigures[];
  /** What goes on now, to whichever host; null where nothing does. */
  going: NetworkGoing | null;
  /** Why the latest one to this host was not measured; null where it was. */
  trouble: string | null;
}

export interface NetworkGoing {
  from: string;
  to: string;
  /** Which passage, from 0, of how many. */
  passage: number;
  of: number;
  secondsLeft: number;
}
