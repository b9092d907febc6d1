/** A rig that may be what is watched. */
export interface RigToWatch {
  id: string;
  /** Its study, its letter and its name. */
  text: string;
  /** What its way cannot exceed, MB/s; null where its parts do not say. */
  ceilings: { read: number | null; write: number | null };
  /** Of its drive and the box round it, as far as they are known. */
  serials: string[];
}
