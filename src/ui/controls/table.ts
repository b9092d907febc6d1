/** The look of small tables: column heads, and cells. */
export const HEAD =
  "border-b border-line px-2 py-0.5 text-left text-[13px] font-medium text-secondary";
export const CELL = "border-b border-line px-2 py-1 align-baseline";
