"use client";

import { createContext, use, useMemo, type ReactNode } from "react";
import { findMode, MODES } from "@/core/ledger/catalogue";
import type { LinkMode } from "@/core/ledger/mode";

const OwnModes = createContext<readonly string[]>([]);

/** Makes the tester's own modes known to every list of modes. @param ids their identifiers */
export function OwnModesProvider({ ids, children }: { ids: string[]; children: ReactNode }) {
  return <OwnModes value={ids}>{children}</OwnModes>;
}

/** Every mode there is to choose from: those of the standards, then the tester's own. */
export function useModes(): readonly LinkMode[] {
  const own = use(OwnModes);
  return useMemo(() => [...MODES, ...own.flatMap((id) => findMode(id) ?? [])], [own]);
}
