import { Answer, type Question } from "@/core/host/question";
import { shellAnswer } from "./ask-shell";
import type { EngineReady, ReadyHost } from "./ready";
import { commandOf, startOn } from "./ssh";
import { HostProblem } from "./trouble";

/** A measuring process that says nothing for so long is asked no longer. */
const MOST_MS = 60_000;
/** What a host's shell answers before the answer itself is passed over. */
const MOST_ANSWER = 20e6;

/** Asks a host what a machine is asked before a run. @throws HostProblem where it does not answer */
export const askOn = (ready: ReadyHost, question: Question): Promise<Answer> =>
  ready.by === "engine" ? askEngine(ready, question) : shellAnswer(ready.host, question);

async function askEngine(ready: EngineReady, question: Question): Promise<Answer> {
  const { child, ended } = startOn(
    ready.host,
    commandOf(["exec", ready.node, ready.engine, "ask"]),
    MOST_MS,
  );
  let text = "";
  child.stdout.on("data", (chunk: Buffer) => {
    text += chunk.toString();
    if (text.length > MOST_ANSWER) child.kill();
  });
  child.stdin.end(`${JSON.stringify(question)}\n`);
  const end = await ended;
  for (const line of text.split("\n").toReversed()) {
    try {
      return Answer.parse(JSON.parse(line));
    } catch {
      // A greeting, or a line cut short.
    }
  }
  throw new HostProblem(
    "broken",
    end.status === null
      ? end.trouble.reason
      : `${ready.host} did not answer what it was asked. ${end.complaint.slice(-300)}`.trim(),
  );
}
