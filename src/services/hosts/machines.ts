import path from "node:path";
import type { Answer, AnswerTo, Question } from "@/core/host/question";
import { answerTo } from "@/engine/questions";
import { Problem } from "../problem";
import { systemRoot } from "../plugged/system-root";

/** The machines that a bench asks of their drives: this one, and its hosts. */
export interface Machines {
  /**
   * Asks a machine.
   *
   * @param host null for this machine
   * @throws Problem where the machine refuses, is not reached, or is none of the bench's
   */
  ask<Q extends Question>(host: string | null, question: Q): Promise<AnswerTo<Q>>;
}

/** This machine alone. @param root where the kernel's tree is read */
export const thisMachine = (root = systemRoot()): Machines => ({
  async ask(host, question) {
    if (host !== null) throw notKnown(host);
    return unrefused(question, await answerTo(question, path.resolve(root)));
  },
});

/** A host that was never added: a slip of the pen must not connect to anywhere. */
export const notKnown = (host: string): Problem =>
  new Problem(422, `${host} is not one of the hosts. Add it on the page Hosts first.`, [], "host");

/** @throws Problem where a machine refused to answer, or answered something else */
export function unrefused<Q extends Question>(question: Q, answer: Answer): AnswerTo<Q> {
  if (answer.answer === "refused") throw new Problem(422, answer.reason, [], answer.code);
  if (isAnswerTo(question, answer)) return answer;
  throw new Problem(422, "The measuring process answered another question.");
}

const isAnswerTo = <Q extends Question>(question: Q, answer: Answer): answer is AnswerTo<Q> =>
  answer.answer === question.ask;
