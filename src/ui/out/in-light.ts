/** Does something with an element that has the tokens of the light theme, whatever theme the page is in. */
export function inLight<T>(work: (element: HTMLElement) => T): T {
  const element = document.createElement("div");
  element.dataset.theme = "light";
  element.style.cssText = "position:absolute;left:-10000px;top:0;visibility:hidden";
  document.body.append(element);
  try {
    return work(element);
  } finally {
    element.remove();
  }
}
