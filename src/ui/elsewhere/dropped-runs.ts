"use client";

import { useEffect } from "react";

/** A run file that was dropped on a page, until the page that imports runs takes it. */
let dropped: File | null = null;
let taker: ((file: File) => void) | null = null;

/** Hands a file on: at once where the page that imports runs is open, else when it opens. */
export function handOn(file: File): void {
  if (taker) taker(file);
  else dropped = file;
}

/** Whether a file was dropped that no page has taken yet. */
export const isWaiting = (): boolean => dropped !== null;

/** Takes files that were dropped, for as long as the component is there. */
export function useDroppedRuns(take: (file: File) => void): void {
  useEffect(() => {
    taker = take;
    const waiting = dropped;
    dropped = null;
    if (waiting) take(waiting);
    return () => void (taker = null);
  });
}
