import { spaceIn, SPACE_QUESTION } from "@/core/host/space";
import type { Answer, Question } from "@/core/host/question";
import { reserveOf } from "@/engine/target/target";
import { shellSaid } from "./shell-said";

/** Answers for a host that has a shell and no measuring process: what room there is, and nothing of what is plugged in. @throws HostProblem */
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
      const space = spaceIn(await shellSaid(host, SPACE_QUESTION, `${question.target}\n`));
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
