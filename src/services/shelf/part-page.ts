import type { Part } from "@/core/chain/part";
import { USUAL_CHOICE } from "@/core/study/report-choice";
import { holds, type InStudy } from "@/core/report/seen-with";
import { columnsOf, usualColumns, type SheetColumn } from "@/core/report/sheet";
import type { RateUnit } from "@/core/units/rate";
import type { Store } from "@/store/database";
import { getParts } from "@/store/parts";
import { openCompared } from "../conclusions/comparison";
import { Problem } from "../problem";
import { BUNDLED, inThread } from "../reports/report-thread";
import { studyTitles } from "../studies/studies";

/** A part with every study in which it stands in some rig. @throws Problem 404 */
export function openPart(store: Store, partId: string): { part: Part; studies: InStudy[] } {
  const part = getParts(store, [partId]).get(partId);
  if (!part) throw new Problem(404, "There is no such part.");
  const studies = studyTitles(store).flatMap(({ id }): InStudy[] => {
    const { study, rigs, measurements } = openCompared(store, id);
    const { title, tolerance } = study;
    return rigs.some((rig) => holds(rig, part))
      ? [{ study: { title, tolerance }, rigs, measurements }]
      : [];
  });
  return { part, studies };
}

/** The columns that the sheet of a part can have, and those it has where none were asked for. */
export function sheetColumns(
  store: Store,
  partId: string,
): { part: Part; columns: SheetColumn[]; usual: string[] } {
  const { part, studies } = openPart(store, partId);
  const columns = columnsOf(part, studies);
  return { part, columns, usual: usualColumns(columns) };
}

/**
 * Prints a part: its card, or all its rigs side by side.
 *
 * @param columns of the sheet, by their keys; null makes the card
 * @param file the bundle that makes it
 * @throws Problem 404
 */
export async function printPart(
  store: Store,
  partId: string,
  columns: readonly string[] | null,
  unit: RateUnit,
  file = BUNDLED,
): Promise<Uint8Array> {
  const { numbers, dates } = USUAL_CHOICE;
  return inThread<Uint8Array>(file, {
    ofPart: {
      ...openPart(store, partId),
      columns,
      choice: { unit, numbers, dates },
      at: new Date().toISOString(),
    },
  });
}
