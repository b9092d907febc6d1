import Papa from "papaparse";
import { dayOfFile, fileName } from "@/core/units/file-name";

/** What stands in a table that leaves the program. */
export type Cell = string | number | null;

/** Hands a file to the browser to keep. */
export function saveFile(name: string, content: Blob): void {
  const url = URL.createObjectURL(content);
  const link = document.createElement("a");
  link.href = url;
  link.download = name;
  link.click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}

/** A table as CSV; what a spreadsheet would take for a formula stays text. */
export const csvOf = (rows: readonly (readonly Cell[])[]): string =>
  `${Papa.unparse(
    rows.map((row) => [...row]),
    { escapeFormulae: true, newline: "\n" },
  )}\n`;

/** A table for the clipboard, as spreadsheets take it. */
export const tabbed = (rows: readonly (readonly Cell[])[]): string =>
  Papa.unparse(
    rows.map((row) => [...row]),
    { delimiter: "\t", escapeFormulae: true, newline: "\n" },
  );

/**
 * Puts text on the clipboard, also where the browser has no clipboard for pages that came without
 * encryption.
 *
 * @throws Error where neither way is allowed
 */
export async function copyText(text: string): Promise<void> {
  try {
    return await navigator.clipboard.writeText(text);
  } catch {
    const field = document.createElement("textarea");
    field.value = text;
    field.style.cssText = "position:fixed;opacity:0";
    document.body.append(field);
    field.select();
    const copied = document.execCommand("copy");
    field.remove();
    if (!copied) throw new Error("The browser does not let this page use the clipboard.");
  }
}

/** The name of a file that leaves a page, without its ending: the study, what it is, and the day. */
export function savedName(what: string): string {
  const study = document.querySelector("[data-study-title]")?.textContent ?? "";
  return fileName(study, what, dayOfFile(new Date().toISOString()));
}

/** Draws an SVG document into a PNG. @param scale pixels of the PNG for one of the drawing */
export async function pngOf(
  svg: string,
  width: number,
  height: number,
  scale: number,
): Promise<Blob> {
  const url = URL.createObjectURL(new Blob([svg], { type: "image/svg+xml" }));
  try {
    const image = new Image();
    image.src = url;
    await image.decode();
    const canvas = document.createElement("canvas");
    [canvas.width, canvas.height] = [width * scale, height * scale];
    const context = canvas.getContext("2d")!;
    context.scale(scale, scale);
    context.drawImage(image, 0, 0, width, height);
    return await new Promise((resolve, reject) =>
      canvas.toBlob(
        (blob) => (blob ? resolve(blob) : reject(new Error("The picture could not be drawn."))),
        "image/png",
      ),
    );
  } finally {
    URL.revokeObjectURL(url);
  }
}
