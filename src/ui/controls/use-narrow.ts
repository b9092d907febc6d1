"use client";

import { useSyncExternalStore } from "react";

/** Below this width, as in the style sheets, menus stand in the place of rows. */
const NARROW = "(max-width: 767px)";

const watchWidth = (changed: () => void) => {
  const query = window.matchMedia(NARROW);
  query.addEventListener("change", changed);
  return () => query.removeEventListener("change", changed);
};

/** Whether the window is narrow; not on the server, which takes it for wide. */
export const useNarrow = (): boolean =>
  useSyncExternalStore(
    watchWidth,
    () => window.matchMedia(NARROW).matches,
    () => false,
  );
