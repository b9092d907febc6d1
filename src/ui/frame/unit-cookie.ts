/** Where the browser remembers in which unit rates are read. */
export const UNIT_COOKIE = "nerrit-unit";
