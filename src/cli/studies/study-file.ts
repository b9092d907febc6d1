import fs from "node:fs";
import { readStudyFile } from "@/services/studies/read-study-file";
import { isProblem } from "@/services/problem";
import { studyOf, type FiledStudy, type StudyFile } from "@/core/exchange/study-file";
import type { Rig } from "@/core/chain/rig";
import { conclude, type Conclusions } from "@/core/conclude/conclusions";
import { Usage } from "../exit";

/** Larger than any study that was made by hand or saved by Nerrit. */
const LIMIT = 256 * 2 ** 20;

/** Reads a study's file and puts it together. @throws Usage that says what is wrong, and where */
export const openStudyFile = (file: string): FiledStudy => studyOf(openFile(file));

/** What follows from the runs of a study's file, with its own parts as the shelf. */
export const conclusionsIn = ({
  study,
  parts,
  rigs,
  measurements,
  networks,
  checks,
}: FiledStudy): Conclusions =>
  conclude({
    rigs,
    measurements,
    tolerance: study.tolerance,
    parts,
    shelf: parts,
    networks,
    checks,
  });

/** Reads a study's file as it was written. @throws Usage that says what is wrong, and where */
export function openFile(file: string): StudyFile {
  try {
    if (fs.statSync(file).size > LIMIT) throw new Usage(`${file} is larger than 256 MiB`);
    return readStudyFile(fs.readFileSync(file));
  } catch (error) {
    if (isProblem(error)) throw new Usage(`${file}: ${error.message}`);
    if (error instanceof Usage) throw error;
    throw new Usage(`${file} cannot be read: ${(error as Error).message}`);
  }
}

/** One rig of a study, by its name or its identifier. @throws Usage that lists those there are */
export function rigNamed({ rigs }: FiledStudy, name: string | undefined): Rig {
  const found = rigs.filter((rig) => rig.id === name || rig.name === name);
  if (found.length === 1) return found[0]!;
  if (found.length === 0 && name === undefined && rigs.length === 1) return rigs[0]!;
  const names = rigs.map((rig) => `"${rig.name}"`).join(", ");
  if (name === undefined) throw new Usage(`name a rig with --rig: ${names || "there is none"}`);
  throw new Usage(
    found.length > 1
      ? `several rigs are called "${name}": use one’s identifier`
      : `there is no rig "${name}"; there are ${names || "none"}`,
  );
}
