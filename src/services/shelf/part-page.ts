import type { Part } from "@/core/chain/part";
import { candidateParts } from "@/core/locate/steps/candidate-parts";
import { holds, type InStudy } from "@/core/report/seen-with";
import { columnsOf, usualColumns, type SheetColumn } from "@/core/report/sheet";
import type { RateUnit } from "@/core/units/rate";
import { hostNames } from "@/store/hosts";
import { listMachineChecks } from "@/store/machine-checks";
import { listNetworks } from "@/store/networks";
import type { Store } from "@/store/database";
import { getParts } from "@/store/parts";
import { openCompared } from "../conclusions/comparison";
import { conclusionsOf, dropsAsked } from "../conclusions/conclusions";
import { opinionOf } from "../conclusions/opinion";
import { Problem } from "../problem";
import { BUNDLED, inThread } from "../reports/report-thread";
import { studyTitles } from "../studies/studies";
import { writingOf } from "../writing";

/** A part with every study in which it stands in some rig. @throws Problem 404 */
export function openPart(store: Store, partId: string): { part: Part; studies: InStudy[] } {
  const part = getParts(store, [partId]).get(partId);
  if (!part) throw new Problem(404, "There is no such part.");
  const studies = studyTitles(store).flatMap(({ id }): InStudy[] => {
    const kept = openCompared(store, id);
    const { study, rigs, measurements } = kept;
    if (!rigs.some((rig) => holds(rig, part))) return [];
    const { title, tolerance } = study;
    const conclusions = conclusionsOf(store, kept);
    return [
      {
        study: { title, tolerance },
        rigs,
        measurements,
        conclusions,
        // On a shelf of thousands every further part tells what these do.
        shelf: candidateParts(conclusions.shelf, rigs),
        opinion: opinionOf(store),
        hosts: hostNames(store),
        networks: listNetworks(store),
        checks: listMachineChecks(store),
        drops: dropsAsked(store, kept),
      },
    ];
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
  const { numbers, dates } = writingOf(store);
  const { part, studies } = openPart(store, partId);
  return inThread<Uint8Array>(file, {
    make: "part",
    part: {
      part,
      // Conclusions are drawn anew over there: their work cannot be sent.
      studies: studies.map(({ conclusions: _, ...filed }) => filed),
      columns,
      choice: { unit, numbers, dates },
      at: new Date().toISOString(),
    },
  });
}
