import { FileProblem, readStudy } from "@/core/exchange/study-archive";
import { StudyFile } from "@/core/exchange/study-file";
import { checked, Problem } from "../problem";

/** Reads a study's file. @throws Problem that names line and column, or the field that is wrong */
export function readStudyFile(bytes: Uint8Array): StudyFile {
  try {
    return checked(StudyFile, readStudy(bytes));
  } catch (error) {
    if (error instanceof FileProblem) throw new Problem(422, error.message);
    if (error instanceof RangeError) {
      throw new Problem(422, "The file is nested too deep, or too large to be read.");
    }
    throw error;
  }
}
