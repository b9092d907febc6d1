import { drawnElement } from "./drawn-element";
import { escaped } from "./framed-svg";
import { inLight } from "./in-theme";
import type { Drawn } from "./drawn";

/**
 * A part of the page that is made of drawings, boxes and words, as one drawing: each box and drawing
 * where it stands, each line of words as text, in the colours of the light theme.
 */
export function drawnPage(root: HTMLElement): Drawn {
  const place = root.getBoundingClientRect();
  const pieces: string[] = inLight((light) => {
    light.style.color = "var(--ink)";
    return [...root.querySelectorAll<HTMLElement>("*")]
      .filter((element) => !element.closest("svg"))
      .flatMap((element) => boxOf(element, twinOf(element, light), place));
  });
  for (const svg of root.querySelectorAll("svg")) {
    const at = svg.getBoundingClientRect();
    if (at.width === 0) continue;
    const { svg: text } = drawnElement(svg);
    const move = `translate(${at.left - place.left} ${at.top - place.top})`;
    pieces.push(`<g transform="${move}">${text}</g>`);
  }
  const walker = document.createTreeWalker(root, NodeFilter.SHOW_TEXT);
  for (let node = walker.nextNode(); node; node = walker.nextNode()) {
    const parent = node.parentElement!;
    if (parent.closest("svg, .sr-only") || !node.textContent?.trim()) continue;
    pieces.push(...linesOf(node as Text, parent, place));
  }
  return {
    svg: `<svg xmlns="http://www.w3.org/2000/svg" width="${place.width}" height="${place.height}">${pieces.join("")}</svg>`,
    width: place.width,
    height: place.height,
  };
}

/** How an element looks in the light theme: its class says the roles of its colours. */
function twinOf(element: HTMLElement, light: HTMLElement): CSSStyleDeclaration {
  const twin = document.createElement("span");
  twin.className = element.className;
  light.append(twin);
  return getComputedStyle(twin);
}

/** The ground of an element, and its edges that are drawn. */
function boxOf(element: HTMLElement, look: CSSStyleDeclaration, place: DOMRect): string[] {
  const rect = element.getBoundingClientRect();
  if (rect.width === 0 && rect.height === 0) return [];
  const [x, y] = [rect.left - place.left, rect.top - place.top];
  const ground = look.backgroundColor;
  const filled = ground !== "transparent" && !/(, 0|\/ 0)\)$/.test(ground);
  const edge = (side: "Top" | "Right" | "Bottom" | "Left", path: string) => {
    const width = parseFloat(look[`border${side}Width`]);
    const style = look[`border${side}Style`];
    if (!(width > 0) || style === "none") return [];
    const dash = style === "dashed" ? ' stroke-dasharray="4 3"' : "";
    return [
      `<path d="${path}" fill="none" stroke="${look[`border${side}Color`]}" stroke-width="${width}"${dash}/>`,
    ];
  };
  const [right, bottom] = [x + rect.width, y + rect.height];
  return [
    ...(filled
      ? [`<rect x="${x}" y="${y}" width="${rect.width}" height="${rect.height}" fill="${ground}"/>`]
      : []),
    ...edge("Top", `M${x} ${y}H${right}`),
    ...edge("Right", `M${right} ${y}V${bottom}`),
    ...edge("Bottom", `M${x} ${bottom}H${right}`),
    ...edge("Left", `M${x} ${y}V${bottom}`),
  ];
}

/** A text as it is broken into lines on the page. */
function linesOf(node: Text, parent: HTMLElement, place: DOMRect): string[] {
  const text = node.textContent!;
  const range = document.createRange();
  const lines: { words: string; rect: DOMRect }[] = [];
  for (const { index, 0: word } of text.matchAll(/\S+\s*/g)) {
    range.setStart(node, index);
    range.setEnd(node, index + word.trimEnd().length);
    const rect = range.getBoundingClientRect();
    const last = lines.at(-1);
    if (last && Math.abs(last.rect.top - rect.top) < 2) last.words += ` ${word.trimEnd()}`;
    else if (rect.width > 0) lines.push({ words: word.trimEnd(), rect });
  }
  const style = getComputedStyle(parent);
  const colour = inLight((light) => {
    light.style.color = "var(--ink)";
    return twinOf(parent, light).color;
  });
  const room = style.textOverflow === "ellipsis" ? parent.clientWidth : Infinity;
  const look = `font-family="${escaped(style.fontFamily)}" font-size="${style.fontSize}" font-weight="${style.fontWeight}" font-style="${style.fontStyle}" fill="${colour}"`;
  return lines.map(({ words, rect }) => {
    // The base line of a line of text lies about a fifth of it above its lower edge.
    const y = rect.top - place.top + rect.height * 0.78;
    const said = room < parent.scrollWidth ? cut(words, room / parent.scrollWidth) : words;
    // Where a sign comes from another font elsewhere, the line is still as long as here.
    const long =
      said === words ? ` textLength="${rect.width}" lengthAdjust="spacingAndGlyphs"` : "";
    return `<text x="${rect.left - place.left}" y="${y}"${long} ${look}>${escaped(said)}</text>`;
  });
}

/** As much of words as is seen of them. @param share of their width that is */
const cut = (words: string, share: number) =>
  `${words.slice(0, Math.max(1, Math.floor(words.length * share) - 1))}…`;
