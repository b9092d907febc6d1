/** The look of all tables: column heads, cells, and the same for figures, which stand to the right. */
export const HEAD =
  "border-b border-line px-2 py-0.5 text-left text-[13px] font-medium text-secondary";
export const HEAD_RIGHT = HEAD.replace("text-left", "text-right");
export const CELL = "border-b border-line px-2 py-1 align-baseline";
export const FIGURE = `${CELL} figure text-right whitespace-nowrap`;
