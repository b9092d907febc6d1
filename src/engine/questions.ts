import type { Answer, Question } from "@/core/host/question";
import { listDrives } from "./plugged/drives";
import { probe } from "./probe/probe";
import { Refusal } from "./refusal";
import { lookAround } from "./surroundings/around";
import { targetFacts } from "./target/facts";

/**
 * Answers what is asked of this machine before a run.
 *
 * @param root where the kernel's tree is read
 */
export async function answerTo(question: Question, root = "/"): Promise<Answer> {
  try {
    switch (question.ask) {
      case "drives":
        return { answer: "drives", drives: await listDrives(root) };
      case "system":
        return { answer: "system", report: await probe(question.path, root) };
      case "around": {
        const { target, reserve, own } = question;
        return { answer: "around", around: await lookAround(target, reserve, own, root) };
      }
      case "target": {
        const { target, reserve, cache } = question;
        return { answer: "target", facts: await targetFacts(target, reserve, cache) };
      }
    }
  } catch (error) {
    if (error instanceof Refusal)
      return { answer: "refused", code: error.code, reason: error.message };
    throw error;
  }
}
