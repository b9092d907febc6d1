import type { Answer, Question } from "@/core/host/question";
import { listDrives } from "../plugged/drives";
import { Refusal } from "../refusal";
import { targetFacts } from "../target/facts";

/** Answers what is asked of a host before a run. */
export async function answerTo(question: Question): Promise<Answer> {
  try {
    if (question.ask === "drives") return { answer: "drives", drives: await listDrives() };
    const { target, reserve, cache } = question;
    return { answer: "target", facts: await targetFacts(target, reserve, cache) };
  } catch (error) {
    if (error instanceof Refusal)
      return { answer: "refused", code: error.code, reason: error.message };
    throw error;
  }
}
