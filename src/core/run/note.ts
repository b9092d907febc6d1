import * as z from "zod";
import { CELSIUS } from "../units/bounds";
import { line } from "../units/text";
import type { Reading, RunEvent } from "./result";

/** What a tester notes while a run goes on, and how long ago that was: the time it took to type. */
export const NoteRequest = z.object({
  text: line(200).min(1, "say what happened"),
  agoMs: z.number().min(0).max(600_000).default(0),
});
export type NoteRequest = z.infer<typeof NoteRequest>;

/** Where a temperature is named that the tester read off, among those that the system reports. */
export const NOTED = "noted by the tester";

/** A temperature in words: "case 48 °C", "61.5C". */
const DEGREES = /(?<![\w.,])(-?\d{1,3}(?:[.,]\d+)?)\s?(?:°\s?)?C\b/;

/**
 * A note as a moment of a run; a temperature in it counts as one that was measured.
 *
 * @param ms milliseconds after the run's first counted moment
 */
export function noteAt(ms: number, text: string): { event: RunEvent; reading: Reading | null } {
  const event: RunEvent = { ms, kind: "mark", text, from: NOTED };
  const found = DEGREES.exec(text);
  const celsius = found ? Number(found[1]!.replace(",", ".")) : NaN;
  const isWarmth = celsius >= CELSIUS.least && celsius <= CELSIUS.most;
  const reading = { ms, engine: null, machine: null, celsius: { [NOTED]: celsius } };
  return { event, reading: isWarmth ? reading : null };
}
