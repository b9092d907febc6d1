import { NoteRequest } from "@/core/run/note";
import { checked, Problem } from "../problem";
import type { Desk } from "./desk";

/** Keeps a note with the run that goes on. @throws Problem 409 where none does, 422 where it says nothing */
export function noteDuring(desk: Desk, id: string, input: unknown): void {
  const { text, agoMs } = checked(NoteRequest, input);
  if (!desk.note(id, text, agoMs))
    throw new Problem(409, "No run of this measurement goes on, so the note has no moment.");
}
