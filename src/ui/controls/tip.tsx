"use client";

import { Tooltip } from "radix-ui";
import type { ReactElement, ReactNode } from "react";

/** Says more of something when it is pointed at or focused. */
export function Tip({ text, children }: { text: ReactNode; children: ReactElement }) {
  if (!text) return children;
  return (
    <Tooltip.Root>
      <Tooltip.Trigger asChild>{children}</Tooltip.Trigger>
      <Tooltip.Portal>
        <Tooltip.Content
          sideOffset={4}
          className="z-50 max-w-80 rounded-sm bg-ink px-2 py-1 text-[13px] leading-snug text-paper shadow-xl"
        >
          {text}
        </Tooltip.Content>
      </Tooltip.Portal>
    </Tooltip.Root>
  );
}

export const TipProvider = ({ children }: { children: ReactNode }) => (
  <Tooltip.Provider delayDuration={350}>{children}</Tooltip.Provider>
);
