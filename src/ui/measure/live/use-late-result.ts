"use client";

import { useEffect, useEffectEvent } from "react";

/** How often the page is asked for again, milliseconds, and how many times. */
const AGAIN_MS = 1500;
const MOST_TIMES = 10;

/**
 * Asks for the page again while a run that is over has no result on it: a page that was on its way as the run ended
 * shows the run as it was before.
 *
 * @param isMissing whether a result should be there and is not
 */
export function useLateResult(isMissing: boolean, askAgain: () => void): void {
  const ask = useEffectEvent(askAgain);
  useEffect(() => {
    if (!isMissing) return;
    let asked = 0;
    const timer = setInterval(() => {
      asked += 1;
      if (asked > MOST_TIMES) clearInterval(timer);
      else ask();
    }, AGAIN_MS);
    return () => clearInterval(timer);
  }, [isMissing]);
}
