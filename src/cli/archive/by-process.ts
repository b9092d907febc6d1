import path from "node:path";
import { inArchiveProcess, type Following } from "@/services/archive/process";
import type { ArchiveOrder } from "@/services/archive/order";
import { isProblem } from "@/services/problem";
import { Failure } from "../exit";

/** The bundle beside this program. */
const BUNDLE = path.join(import.meta.dirname, "archive.mjs");

/** The migrations of this program. */
export const MIGRATIONS = path.join(import.meta.dirname, "..", "src", "store", "migrations");

/** Has something of an archive done. @throws Failure that says what went wrong */
export async function byProcess(order: ArchiveOrder, following: Following = {}) {
  try {
    return await inArchiveProcess(order, { bundle: BUNDLE, ...following });
  } catch (error) {
    throw isProblem(error) ? new Failure(error.message) : error;
  }
}
