import type { Fault } from "./result";

/**
 * Faults in order of place; neighbours of one kind within one block are one fault.
 *
 * @param block bytes of a request
 */
export function joinedFaults(each: readonly Fault[], block: number): Fault[] {
  const faults: Fault[] = [];
  for (const fault of each.toSorted((a, b) => a.offset - b.offset)) {
    const last = faults.at(-1);
    const joins =
      last?.kind === fault.kind &&
      last.offset + last.bytes === fault.offset &&
      Math.floor(last.offset / block) === Math.floor(fault.offset / block);
    if (joins) last.bytes += fault.bytes;
    else faults.push({ ...fault });
  }
  return faults;
}
