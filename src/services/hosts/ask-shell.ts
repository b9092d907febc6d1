import { spaceIn, SPACE_QUESTION } from "@/core/host/space";
import type { Answer, Question } from "@/core/host/question";
import { reserveOf } from "@/engine/target/target";
import { startOn } from "./ssh";
import { HostProblem } from "./trouble";

const MOST_MS = 60_000;
const MOST_TEXT = 1e6;

/** Answers for a host that has a shell and no measuring process: what room there is, and nothing of what is plugged in. */
export async function shellAnswer(host: string, question: Question): Promise<Answer> {
  switch (question.ask) {
    case "drives":
    case "system":
      return {
        answer: "refused",
        code: "no-node",
        reason: `${host} has no Node, so what is plugged in there is not seen. Name the directory on the drive.`,
      };
    case "target": {
      const { reserve, cache } = question;
      const space = await spaceOn(host, question.target);
      if (!space) return { answer: "target", facts: null };
      const room = Math.max(0, space.free - reserveOf(reserve, space.total));
      const facts = { kind: "directory" as const, room, space, smallestBlock: null, cache };
      return { answer: "target", facts };
    }
    case "around": {
      const { target, reserve, own: _own } = question;
      const found = await shellAnswer(host, { ask: "target", target, reserve, cache: null });
      const facts = found.answer === "target" ? found.facts : null;
      const unseen = {
        what: "Not looked at before the run",
        value: "how busy drive and cores are, and how the drive is attached: there is no Node",
        from: host,
      };
      return {
        answer: "around",
        around: {
          facts,
          report: null,
          space: facts?.space ?? null,
          memory: false,
          shared: { system: false, own: false },
          busy: { drive: null, core: null, seconds: 0 },
          onBattery: null,
          quiet: [unseen],
        },
      };
    }
  }
}

/** @returns null where there is no such directory @throws HostProblem where the host is not reached */
async function spaceOn(
  host: string,
  target: string,
): Promise<{ free: number; total: number } | null> {
  const { child, ended } = startOn(host, `exec sh -c '${SPACE_QUESTION}'`, MOST_MS);
  // A path may hold any sign, so it is no part of a command.
  child.stdin.end(`${target}\n`);
  let text = "";
  child.stdout.on("data", (chunk: Buffer) => {
    text += chunk.toString();
    if (text.length > MOST_TEXT) child.kill();
  });
  const end = await ended;
  if (end.status === null) throw new HostProblem(end.trouble.code, end.trouble.reason);
  return spaceIn(text);
}
