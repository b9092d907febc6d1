import { isMainThread, parentPort, workerData } from "node:worker_threads";
import { StudyFile } from "@/core/exchange/study-file";
import { studyOf } from "@/core/exchange/study-file";
import type { Part } from "@/core/chain/part";
import type { Opinion } from "@/core/locate/hypotheses/opinion";
import { cardOf, type CardChoice } from "@/core/report/card";
import { inStudy, type FiledWith } from "@/core/report/seen-with";
import { sheetOf } from "@/core/report/sheet";
import type { ReportChoice } from "@/core/study/report-choice";
import type { Earlier } from "@/core/report/earlier";
import { cleanPhoto } from "@/core/study/photo";
import type { ReportInput } from "@/core/report/matter";
import { reportOf, type Report } from "@/core/report/report";
import { htmlOf } from "./html/page";
import { archiveOf } from "./archive";

/** What is to be made of which study. */
export interface ReportOrder {
  /** A study's file, read and held against its schema. */
  file: StudyFile;
  choice: ReportChoice;
  at: string;
  form: "html" | "zip";
  shelf?: readonly Part[];
  opinion?: Opinion;
  earlier?: Earlier | null;
}

export interface MadeReport {
  bytes: Uint8Array;
  stand: Report["stand"];
}

/** Makes a report: the same order gives the same bytes. */
export function makeReport({ file, form, ...rest }: ReportOrder): MadeReport {
  const photos = Object.fromEntries(
    (file.photos ?? []).map(({ id, data }) => {
      // A file that was written elsewhere may say more than is seen.
      const { bytes: seen, ...photo } = cleanPhoto(Buffer.from(data, "base64"));
      return [id, { ...photo, data: Buffer.from(seen).toString("base64") }];
    }),
  );
  const { document, stand } = reportOf({ ...rest, filed: studyOf(file), photos }, rest.choice);
  const bytes =
    form === "html" ? new TextEncoder().encode(htmlOf(document)) : archiveOf(document, file);
  return { bytes, stand };
}

/** What is to be printed of a part: its card, or all its rigs side by side. */
export interface PartOrder {
  part: Part;
  studies: readonly FiledWith[];
  choice: CardChoice;
  at: string;
  /** Of a sheet: its columns, by their keys; null makes the card. */
  columns: readonly string[] | null;
}

/** Makes a page of a part. */
export function makePartPage({ part, studies, choice, at, columns }: PartOrder): Uint8Array {
  const within = studies.map(inStudy);
  const document = columns
    ? sheetOf(part, within, columns, choice, at)
    : cardOf(part, within, choice, at);
  return new TextEncoder().encode(htmlOf(document));
}

/** What a thread is asked for. */
interface Ordered {
  number: number;
  /** A study's document as it was put together, not yet held against its schema. */
  report?: Omit<ReportOrder, "file"> & { file: unknown };
  /** The page alone, of a study that is at hand. */
  page?: ReportInput & { choice: ReportChoice };
  ofPart?: PartOrder;
}

function made({ report, page, ofPart }: Ordered): MadeReport | Uint8Array {
  if (report) return makeReport({ ...report, file: StudyFile.parse(report.file) });
  if (page) {
    const { document, stand } = reportOf(page, page.choice);
    return { bytes: new TextEncoder().encode(htmlOf(document)), stand };
  }
  if (ofPart) return makePartPage(ofPart);
  throw new RangeError("Nothing was asked for.");
}

// In a thread of its own it makes what it is asked for, one after another.
if (!isMainThread && (workerData as { reports?: boolean } | null)?.reports)
  parentPort!.on("message", (order: Ordered) => {
    const { number } = order;
    try {
      parentPort!.postMessage({ number, made: made(order) });
    } catch (error) {
      parentPort!.postMessage({ number, error: (error as Error).stack ?? String(error) });
    }
  });
