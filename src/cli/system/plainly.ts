import { StoreProblem } from "@/services/backups/store-problem";
import { Failure } from "../exit";

/** @throws Failure with the words of whatever is wrong with a database */
export async function plainly<T>(work: () => T | Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    throw error instanceof StoreProblem ? new Failure(error.message) : error;
  }
}
