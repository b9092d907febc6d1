import { USUAL_WRITING, writeAs, Writing } from "@/core/units/writing";
import type { Store } from "@/store/database";
import { getSetting, putSetting } from "@/store/settings";
import { checked } from "./problem";

const NAME = "writing";

/** How figures and days are written on this bench; the usual where nothing was chosen. */
export const writingOf = (store: Store): Writing =>
  Writing.safeParse(getSetting(store, NAME)).data ?? USUAL_WRITING;

/** Writes figures and days in another way from now on. @throws Problem that names what makes no sense */
export function setWriting(store: Store, input: unknown): Writing {
  const next = checked(Writing, input);
  putSetting(store, NAME, next);
  writeAs(next);
  return next;
}
