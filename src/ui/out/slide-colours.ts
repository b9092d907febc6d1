import { inTheme, type Theme } from "./in-theme";

/** Colours of a theme, by their roles. */
export type Colours = Record<
  "paper" | "ink" | "secondary" | "line" | "flow" | "bottleneck",
  string
>;

/** The colours of a theme, as its style sheet has them. */
export const coloursOf = (theme: Theme): Colours =>
  inTheme(theme, (element) => {
    const style = getComputedStyle(element);
    const colour = (role: string) => style.getPropertyValue(`--${role}`).trim();
    return {
      paper: colour("paper"),
      ink: colour("ink"),
      secondary: colour("secondary"),
      line: colour("line"),
      flow: colour("flow"),
      bottleneck: colour("bottleneck"),
    };
  });
