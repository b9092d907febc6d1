import { readFileSync } from "node:fs";
import { createRequire } from "node:module";

/** The faces that a report is set in: those of the program's own pages. */
const FACES = [
  ["newsreader", "Newsreader", 400, "normal"],
  ["newsreader", "Newsreader", 400, "italic"],
  ["barlow-semi-condensed", "Barlow Semi Condensed", 400, "normal"],
  ["barlow-semi-condensed", "Barlow Semi Condensed", 600, "normal"],
  ["ibm-plex-mono", "IBM Plex Mono", 400, "normal"],
  ["ibm-plex-mono", "IBM Plex Mono", 600, "normal"],
] as const;
/** Scripts beyond the first are carried only where the report has signs of them. */
const SCRIPTS = { latin: /[\s\S]/, "latin-ext": /[\u0100-\u02af\u1e00-\u1eff]/ };

/** Rules that carry the fonts within the report itself. @param text of the whole report */
export function fontRules(text: string): string {
  const { resolve } = createRequire(import.meta.url);
  return FACES.flatMap(([name, family, weight, slant]) =>
    Object.entries(SCRIPTS).flatMap(([script, signs]) => {
      if (!signs.test(text)) return [];
      const file = resolve(`@fontsource/${name}/files/${name}-${script}-${weight}-${slant}.woff2`);
      const data = readFileSync(file).toString("base64");
      const range = script === "latin-ext" ? "unicode-range:U+100-2AF,U+1E00-1EFF;" : "";
      return [
        `@font-face{font-family:"${family}";font-weight:${weight};font-style:${slant};${range}src:url(data:font/woff2;base64,${data}) format("woff2")}`,
      ];
    }),
  ).join("");
}
