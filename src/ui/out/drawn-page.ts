import { drawnElement } from "./drawn-element";
import { escaped } from "./framed-svg";
import { inLight } from "./in-light";
import type { Drawn } from "./out-menu";

/**
 * A part of the page that is made of drawings and words, as one drawing: each drawing where it stands,
 * each line of words as text, in the colours of the light theme.
 */
export function drawnPage(root: HTMLElement): Drawn {
  const place = root.getBoundingClientRect();
  const pieces: string[] = [];
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
  // The class says the colour's role; in the light theme it has another value.
  const style = getComputedStyle(parent);
  const colour = inLight((element) => {
    const twin = document.createElement("span");
    twin.className = parent.className;
    element.style.color = "var(--ink)";
    element.append(twin);
    return getComputedStyle(twin).color;
  });
  const look = `font-family="${escaped(style.fontFamily)}" font-size="${style.fontSize}" font-weight="${style.fontWeight}" font-style="${style.fontStyle}" fill="${colour}"`;
  return lines.map(({ words, rect }) => {
    // The base line of a line of text lies about a fifth of it above its lower edge.
    const y = rect.top - place.top + rect.height * 0.78;
    return `<text x="${rect.left - place.left}" y="${y}" ${look}>${escaped(words)}</text>`;
  });
}
