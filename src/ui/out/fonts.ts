/**
 * The fonts that a drawing names, as rules that carry them, so that it looks the same wherever it is
 * opened. What is not needed is left out: other families, weights, slants and scripts.
 *
 * @param svg the drawing
 * @returns style rules; empty where a font cannot be had, and the next of its list stands in
 */
export async function fontRules(svg: string): Promise<string> {
  const signs = new Set([...svg].map((sign) => sign.codePointAt(0)!));
  const faces = [...document.styleSheets]
    .flatMap(facesOf)
    .filter(
      ({ style }) =>
        svg.includes(unquoted(style.getPropertyValue("font-family"))) &&
        namesWeight(svg, style.getPropertyValue("font-weight")) &&
        (style.getPropertyValue("font-style") !== "italic" || svg.includes("italic")) &&
        covers(style.getPropertyValue("unicode-range"), signs),
    );
  return (await Promise.all(faces.map(carried))).join("");
}

const unquoted = (family: string) => family.replaceAll(/["']/g, "");

const namesWeight = (svg: string, weight: string) =>
  weight === "400" || weight === "normal" || new RegExp(`font-weight[=:]\\s*"?${weight}`).test(svg);

function facesOf(sheet: CSSStyleSheet): CSSFontFaceRule[] {
  try {
    return [...sheet.cssRules].flatMap((rule) => (rule instanceof CSSFontFaceRule ? [rule] : []));
  } catch {
    return []; // A sheet of an extension's, which pages may not read.
  }
}

/** Whether a face's range, "U+0-FF, U+131" or "U+4??", has any of the signs beyond the plain space. */
function covers(range: string, signs: ReadonlySet<number>): boolean {
  if (!range) return true;
  const spans = range.split(",").map((span) => {
    const [from = "", to] = span.trim().slice(2).split("-");
    const [low, high] = [from.replaceAll("?", "0"), (to ?? from).replaceAll("?", "F")];
    return [parseInt(low, 16), parseInt(high, 16)] as const;
  });
  return [...signs].some((sign) => spans.some(([low, high]) => sign >= low && sign <= high));
}

/** A face whose file stands in the rule itself. */
async function carried({ style, parentStyleSheet }: CSSFontFaceRule): Promise<string> {
  const source = /url\(["']?([^"')]+)["']?\)\s*format\(["']?woff2/.exec(
    style.getPropertyValue("src"),
  );
  if (!source) return "";
  const from = new URL(source[1]!, parentStyleSheet?.href ?? document.baseURI);
  try {
    const answer = await fetch(from);
    if (!answer.ok) return "";
    const data = await asDataUrl(await answer.blob());
    const [family, weight, slant] = ["font-family", "font-weight", "font-style"].map((name) =>
      style.getPropertyValue(name),
    );
    return `@font-face{font-family:${family};font-weight:${weight};font-style:${slant || "normal"};src:url(${data}) format("woff2")}`;
  } catch {
    return "";
  }
}

const asDataUrl = (blob: Blob): Promise<string> =>
  new Promise((resolve, reject) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as string);
    reader.onerror = () => reject(reader.error ?? new Error("The font could not be read."));
    reader.readAsDataURL(blob);
  });
