import { spawn } from "node:child_process";
import path from "node:path";
import { mountOf, readMounts } from "./mount";
import { Refusal } from "../refusal";

/** How long a place may take to say how much room it has: a disk that sleeps turns up to speed within it. */
const PATIENCE_MS = 10_000;

/** Questions that are not answered yet, by mount: one is enough. */
const open = new Map<string, Promise<void>>();

/**
 * Asks the file system of a place for a sign of life. One over a network, or in a process that hangs, may
 * never answer, and neither would anything that is asked of it afterwards.
 *
 * @param target absolute path; one that does not exist is an answer, too
 * @throws Refusal where nothing comes
 */
export async function answering(
  target: string,
  patienceMs = PATIENCE_MS,
  ask: (target: string) => Promise<unknown> = askInProcess,
): Promise<void> {
  const mount = mountOf(path.resolve(target), await readMounts());
  const key = mount?.point ?? target;
  let question = open.get(key);
  if (!question) {
    question = ask(target).then(
      () => undefined,
      () => undefined,
    );
    open.set(key, question);
    void question.then(() => open.delete(key));
  }
  let timer: NodeJS.Timeout | undefined;
  const tired = new Promise<"tired">((resolve) => {
    timer = setTimeout(() => resolve("tired"), patienceMs);
  });
  const first = await Promise.race([question, tired]);
  clearTimeout(timer);
  if (first !== "tired") return;
  const what = mount ? ` (${mount.type} at ${mount.point})` : "";
  throw new Refusal(
    "no-answer",
    `${target}${what} has not answered for ${patienceMs / 1e3} s. Look whether its drive, its network or the program behind it is still there, or mount it anew.`,
  );
}

/**
 * Asks how much room there is, in a process of its own: a call that never returns would hold a thread of
 * this one for ever, and keep it from ending.
 */
function askInProcess(target: string): Promise<void> {
  return new Promise((resolve) => {
    const child = spawn("stat", ["--file-system", "--", target], { stdio: "ignore" });
    child.unref();
    // Any end is an answer, also that this system has no stat(1).
    child.once("error", () => resolve());
    child.once("exit", () => resolve());
  });
}
