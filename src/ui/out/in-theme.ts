/** The two looks of the program. */
export type Theme = "light" | "dark";

/** Does something with an element that has the tokens of a theme, whatever theme the page is in. */
export function inTheme<T>(theme: Theme, work: (element: HTMLElement) => T): T {
  const element = document.createElement("div");
  element.dataset.theme = theme;
  element.style.cssText = "position:absolute;left:-10000px;top:0;visibility:hidden";
  document.body.append(element);
  try {
    return work(element);
  } finally {
    element.remove();
  }
}

/** The same in the light theme, which pictures for paper have. */
export const inLight = <T>(work: (element: HTMLElement) => T): T => inTheme("light", work);
