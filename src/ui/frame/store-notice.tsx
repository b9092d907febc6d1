"use client";

import { useEffect, useState } from "react";
import { formatClock } from "@/core/units/day";
import { counted } from "@/core/units/counted";
import { send } from "../controls/send";

/** That the store cannot be written, as the server tells it (services/measuring/keeper.ts). */
export interface StoreTroubleShown {
  since: string;
  why: string;
  file: string | null;
  waiting: number;
}

/** How often an open page asks, milliseconds. */
const ASK_MS = 10_000;

/** Says on every page that the database cannot be written, for as long as that is so. */
export function StoreNotice({ first }: { first: StoreTroubleShown | null }) {
  const [trouble, setTrouble] = useState(first);
  useEffect(() => {
    const timer = setInterval(async () => {
      if (document.hidden) return;
      const asked = await send<{ trouble: StoreTroubleShown | null }>("GET", "/api/store");
      if (asked.ok) setTrouble(asked.data.trouble);
    }, ASK_MS);
    return () => clearInterval(timer);
  }, []);
  if (!trouble) return null;
  const { since, why, file, waiting } = trouble;
  return (
    <div
      role="alert"
      data-store-trouble
      className="mt-1 border-l-[3px] border-ink bg-bank px-4 py-2"
    >
      <p className="font-semibold">
        Nerrit’s database cannot be written since {formatClock(since)}: {why}.
      </p>
      <p>
        {waiting > 0 &&
          `${counted(waiting, "entry", "entries")} of runs wait ${file ? `in ${file}` : "in memory"} and will be stored. `}
        Make room on its disk, or end the program that holds the database.
      </p>
    </div>
  );
}
