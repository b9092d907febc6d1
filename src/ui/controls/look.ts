/** What boxes to type in and to choose from look like. */
export const BOX =
  "w-full rounded-sm border border-line bg-paper px-2 py-1 aria-invalid:border-ink aria-invalid:border-2";
/** A sheet that lies over the page. */
export const SHEET = "border border-line bg-sheet shadow-xl";
/** One of several things to choose from a list. */
export const ITEM =
  "cursor-pointer rounded-sm px-2 py-1 outline-none data-highlighted:bg-bank data-[selected=true]:bg-bank data-disabled:cursor-default data-disabled:text-secondary";
