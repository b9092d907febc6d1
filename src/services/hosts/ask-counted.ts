import { COUNTED_BEGIN, COUNTED_QUESTION, countedIn, type CountedName } from "@/core/host/counted";
import { shellSaid } from "./shell-said";
import { HostProblem } from "./trouble";

/** The drives and interfaces whose traffic a host counts; a shell there is enough. @throws HostProblem */
export async function askCounted(host: string): Promise<CountedName[]> {
  const text = await shellSaid(host, COUNTED_QUESTION);
  if (!text.includes(COUNTED_BEGIN))
    throw new HostProblem("broken", `The shell on ${host} did not answer what it was asked.`);
  return countedIn(text);
}
