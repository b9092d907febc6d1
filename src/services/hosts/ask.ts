import { createInterface } from "node:readline";
import {
  FACTS_BEGIN,
  FACTS_END,
  FACTS_QUESTION,
  readFacts,
  type HostFacts,
} from "@/core/host/host-facts";
import { leastTrip, type Trip } from "@/core/host/clock";
import type { HostTrouble } from "./trouble";
import { startOn } from "./ssh";

/** So often the clock is asked for: the quickest answer says most. */
const TRIPS = 5;
/** A host that takes longer to say what it is has a shell that waits for something. */
const MOST_MS = 60_000;
/** What a host greets with is passed over, up to so much. */
const MOST_LINES = 2000;

/** The question, then its clock for each line that comes in. */
const QUESTION = `exec sh -c '${FACTS_QUESTION}; while read -r x; do echo "clock $(date +%s.%N)"; done'`;

/** Finds out what a host is and has. */
export async function askHost(host: string): Promise<HostFacts | HostTrouble> {
  const { child, ended } = startOn(host, QUESTION, MOST_MS);
  const facts: string[] = [];
  const trips: Trip[] = [];
  let [greeting, stage] = [0, "before" as "before" | "facts" | "clock"];
  let sent = 0;
  const ask = () => {
    sent = Date.now();
    child.stdin.write("?\n");
  };
  for await (const line of createInterface({ input: child.stdout })) {
    if (stage === "before") {
      if (line.trim() === FACTS_BEGIN) stage = "facts";
      else if (++greeting > MOST_LINES) break;
    } else if (stage === "facts") {
      if (line.trim() !== FACTS_END) facts.push(line);
      else [stage] = ["clock", ask()];
    } else if (line.startsWith("clock ")) {
      trips.push({ sent, back: Date.now(), said: line.slice("clock ".length) });
      if (trips.length === TRIPS) break;
      ask();
    }
  }
  child.stdin.end();
  if (stage !== "clock") child.kill();
  const end = await ended;
  if (end.status === null && stage !== "clock") return end.trouble;
  if (stage !== "clock")
    return {
      code: "broken",
      reason: `${host} let us in, but its shell did not answer what it was asked.${end.status !== null && end.complaint ? ` It said: ${end.complaint.split("\n").at(-1)}` : ""}`,
    };
  return { ...readFacts(facts), ...leastTrip(trips) };
}
