import { isMainThread, parentPort, workerData } from "node:worker_threads";
import { StudyFile } from "@/core/exchange/study-file";
import { studyOf } from "@/core/exchange/study-file";
import type { Part } from "@/core/chain/part";
import type { Opinion } from "@/core/locate/opinion";
import type { ReportChoice } from "@/core/report/choice";
import type { Earlier } from "@/core/report/earlier";
import { cleanPhoto } from "@/core/report/photo";
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

/** What a thread is started with: a study's document as it was put together, not yet held against its schema. */
type Ordered = Omit<ReportOrder, "file"> & { file: unknown };

// In a thread of its own: what is ordered comes with the start, the answer is the only message.
const { report } = (isMainThread ? {} : (workerData ?? {})) as { report?: Ordered };
if (report) parentPort!.postMessage(makeReport({ ...report, file: StudyFile.parse(report.file) }));
