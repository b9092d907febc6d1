/**
 * The colours of a report by their role, as in the program's own pages; what leaves it as a picture by
 * itself is always light.
 */
export const LIGHT = {
  paper: "#f5f1e8",
  sheet: "#fbf8f1",
  ink: "#1d2a30",
  secondary: "#566466",
  line: "#d9d3c3",
  bank: "#f0eadb",
  hatch: "#cfc6b0",
  shoal: "#f7f3e8",
  flow: "#1c7f8c",
  bottleneck: "#c93a22",
};
export const DARK: typeof LIGHT = {
  paper: "#161d21",
  sheet: "#1c2529",
  ink: "#e9e4d8",
  secondary: "#a3aeae",
  line: "#35424a",
  bank: "#263138",
  hatch: "#43525a",
  shoal: "#1f292e",
  flow: "#3fa9b5",
  bottleneck: "#ff7a5c",
};

export const FONTS = {
  serif: "Newsreader, Georgia, serif",
  sans: "'Barlow Semi Condensed', 'Arial Narrow', Arial, sans-serif",
  mono: "'IBM Plex Mono', Menlo, Consolas, monospace",
};

/** The roles as rules of a sheet of styles. */
export const rolesIn = (theme: typeof LIGHT): string =>
  Object.entries(theme)
    .map(([role, colour]) => `--${role}:${colour}`)
    .join(";");

/** A drawing whose colours are said by role, with those of the light theme in their place. */
export const inLight = (svg: string): string =>
  svg.replace(
    /var\(--(\w+)\)/g,
    (whole, role: string) => LIGHT[role as keyof typeof LIGHT] ?? whole,
  );
