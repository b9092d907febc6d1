"use client";

import { usePathname } from "next/navigation";
import { useEffect, useRef } from "react";

/** Where the focus goes when a page takes another's place: to its content, so that Tab goes on from there. */
export function FocusPage() {
  const path = usePathname();
  const last = useRef(path);
  useEffect(() => {
    if (last.current === path) return;
    last.current = path;
    // What was pressed has gone with its page; a field of the new page that took the focus keeps it.
    if (document.activeElement !== document.body) return;
    document.getElementById("main")?.focus({ preventScroll: true });
  }, [path]);
  return null;
}
