import { strToU8 } from "fflate";
import { sourceOf, type Block, type ReportDocument } from "@/core/report/document";
import type { StudyFile } from "@/core/exchange/study-file";
import { packStudy } from "@/core/exchange/study-archive";
import { zipOf } from "@/core/exchange/zip";
import { framedSvg } from "@/ui/out/framed-svg";
import { drawn, htmlOf } from "./html/page";
import { unturned } from "@/core/units/text";
import { markdownOf } from "./markdown";
import { csvOf } from "./tables";
import { inLight } from "./theme";

/**
 * A report with everything that belongs to it, each by itself: the page, Markdown, pictures, tables, and
 * the study's file that it can be made from again.
 */
export function archiveOf(report: ReportDocument, study: StudyFile): Uint8Array {
  const blocks = report.sections.flatMap((section) => section.blocks);
  const source = sourceOf(report);
  const placeOf = new Map(blocks.flatMap(pictureFile));
  const files: Record<string, Uint8Array> = {
    "report.html": strToU8(htmlOf(report)),
    "report.md": strToU8(markdownOf(report, (key) => placeOf.get(key)!)),
    "study.zip": packStudy(study as Parameters<typeof packStudy>[0]),
  };
  for (const block of blocks) {
    if (block.kind === "table")
      files[`tables/${fileName(block.table.key)}.csv`] = strToU8(csvOf(block.table, source));
    if (block.kind === "picture") {
      const { key, title, note } = block.picture;
      const { svg, width, height } = drawn(block.picture);
      const framed = framedSvg(inLight(svg), width, height, { title, note: `${note} ${source}` });
      files[placeOf.get(key)!] = strToU8(unturned(framed.svg));
    }
    if (block.kind === "photo")
      files[placeOf.get(block.photo.key)!] = new Uint8Array(
        Buffer.from(block.photo.data, "base64"),
      );
  }
  return zipOf(files);
}

/** Where a picture stands in the archive, by its key. */
function pictureFile(block: Block): [key: string, file: string][] {
  if (block.kind === "picture")
    return [[block.picture.key, `pictures/${fileName(block.picture.key)}.svg`]];
  if (block.kind !== "photo") return [];
  const ending = block.photo.type === "image/png" ? "png" : "jpg";
  return [[block.photo.key, `pictures/${fileName(block.photo.key)}.${ending}`]];
}

/** What any system takes for the name of a file. */
const fileName = (key: string): string => key.replace(/[^\w.-]+/g, "-").slice(0, 80);
