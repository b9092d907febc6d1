import { inLight } from "./in-theme";
import type { Drawn } from "./drawn";

/** What the look of a shape is made of. */
const LOOK = [
  "fill",
  "fill-opacity",
  "stroke",
  "stroke-width",
  "stroke-dasharray",
  "stroke-linecap",
  "stroke-linejoin",
  "paint-order",
  "opacity",
  "font-family",
  "font-size",
  "font-style",
  "font-weight",
  "text-anchor",
  "text-decoration-line",
] as const;

/**
 * A drawing of the page as a document of its own: what style sheets say of its shapes is written into
 * it, as in the light theme.
 */
export function drawnElement(element: SVGSVGElement): Drawn {
  const { width, height } = element.getBoundingClientRect();
  const copy = element.cloneNode(true) as SVGSVGElement;
  inLight((place) => {
    place.append(copy);
    for (const shape of copy.querySelectorAll<SVGElement>("*")) {
      const style = getComputedStyle(shape);
      for (const property of LOOK) {
        const value = style.getPropertyValue(property);
        if (value) shape.setAttribute(property, value);
      }
      shape.removeAttribute("class");
    }
  });
  copy.setAttribute("xmlns", "http://www.w3.org/2000/svg");
  copy.setAttribute("width", String(width));
  copy.setAttribute("height", String(height));
  return { svg: new XMLSerializer().serializeToString(copy), width, height };
}
