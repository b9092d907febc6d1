import { Opinion, USUAL_OPINION } from "@/core/locate/hypotheses/opinion";
import type { Store } from "@/store/database";
import { getSetting, putSetting } from "@/store/settings";
import { checked } from "../problem";

const NAME = "opinion";

/** What the tester believes of causes and knows of their own hands; the usual where nothing was said. */
export const opinionOf = (store: Store): Opinion =>
  Opinion.safeParse(getSetting(store, NAME)).data ?? USUAL_OPINION;

/** Keeps what the tester believes. @throws Problem that names what makes no sense */
export function setOpinion(store: Store, input: unknown): void {
  putSetting(store, NAME, checked(Opinion, input));
}
