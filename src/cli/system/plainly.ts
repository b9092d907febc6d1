import { StoreProblem } from "@/services/backups/store-problem";
import { isProblem } from "@/services/problem";
import { Failure } from "../exit";

/** @throws Failure with the words of whatever is wrong with a database or an archive */
export async function plainly<T>(work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw error instanceof StoreProblem || isProblem(error) ? new Failure(error.message) : error;
  }
}
