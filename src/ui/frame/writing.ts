import { writing, type Writing } from "@/core/units/writing";
import { send } from "../controls/send";
import { sayFailed } from "../controls/toast";

/**
 * Writes every figure and day of the bench in another way. The page is loaded again: figures stand in
 * drawings and in what is being typed alike.
 */
export function chooseWriting(next: Partial<Record<keyof Writing, string>>): void {
  void send("PUT", "/api/writing", { ...writing(), ...next }).then((sent) => {
    if (sent.ok) window.location.reload();
    else sayFailed(sent.error.message);
  });
}
