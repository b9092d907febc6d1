import { isMainThread, parentPort, workerData } from "node:worker_threads";
import { StudyFile } from "@/core/exchange/study-file";
import { studyOf } from "@/core/exchange/study-file";
import { cardOf } from "@/core/report/card";
import type { PartOrder, ReportOrder, ThreadOrder } from "@/core/report/order";
import { inStudy } from "@/core/report/seen-with";
import { sheetOf } from "@/core/report/sheet";
import { cleanPhoto } from "@/core/study/photo";
import { reportOf, type Report } from "@/core/report/report";
import { htmlOf } from "./html/page";
import { archiveOf } from "./archive";

export interface MadeReport {
  bytes: Uint8Array;
  stand: Report["stand"];
}

/** Makes a report: the same order gives the same bytes. */
export function makeReport({ file, form, ...rest }: ReportOrder<StudyFile>): MadeReport {
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

/** Makes a page of a part. */
export function makePartPage({ part, studies, choice, at, columns }: PartOrder): Uint8Array {
  const within = studies.map(inStudy);
  const document = columns
    ? sheetOf(part, within, columns, choice, at)
    : cardOf(part, within, choice, at);
  return new TextEncoder().encode(htmlOf(document));
}

function made(order: ThreadOrder): MadeReport | Uint8Array {
  switch (order.make) {
    case "report":
      return makeReport({ ...order.report, file: StudyFile.parse(order.report.file) });
    case "page": {
      const { document, stand } = reportOf(order.page, order.page.choice);
      return { bytes: new TextEncoder().encode(htmlOf(document)), stand };
    }
    case "part":
      return makePartPage(order.part);
  }
}

// In a thread of its own it makes what it is asked for, one after another.
if (!isMainThread && (workerData as { reports?: boolean } | null)?.reports)
  parentPort!.on("message", ({ number, order }: { number: number; order: ThreadOrder }) => {
    try {
      parentPort!.postMessage({ number, made: made(order) });
    } catch (error) {
      parentPort!.postMessage({ number, error: (error as Error).stack ?? String(error) });
    }
  });
