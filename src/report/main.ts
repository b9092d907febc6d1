import { isMainThread, parentPort, workerData } from "node:worker_threads";
import type { StudyFile} from "@/core/exchange/study-file";
import { studyOf } from "@/core/exchange/study-file";
import type { Part } from "@/core/chain/part";
import type { Opinion } from "@/core/locate/opinion";
import type { ReportChoice } from "@/core/report/choice";
import type { Earlier } from "@/core/report/earlier";
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
  const filed = studyOf(file);
  const { document, stand } = reportOf({ ...rest, filed, notes: file.notes }, rest.choice);
  const bytes =
    form === "html" ? new TextEncoder().encode(htmlOf(document)) : archiveOf(document, file);
  return { bytes, stand };
}

// In a thread of its own: what is ordered comes with the start, the answer is the only message.
const order = isMainThread
  ? null
  : ((workerData as { report?: ReportOrder } | null)?.report ?? null);
if (order) parentPort!.postMessage(makeReport(order));
