"use client";

import { ChevronRight } from "lucide-react";
import { Collapsible } from "radix-ui";
import type { ReactNode } from "react";

/** Something that is folded away under a line that says what it is. */
export function Fold({
  summary,
  open = false,
  className,
  children,
}: {
  summary: ReactNode;
  /** Whether it begins unfolded. */
  open?: boolean;
  className?: string;
  children: ReactNode;
}) {
  return (
    <Collapsible.Root defaultOpen={open} className={className}>
      <Collapsible.Trigger className="group flex items-baseline gap-1.5 text-left hover:underline">
        <ChevronRight
          size={13}
          className="shrink-0 translate-y-[2px] text-secondary group-data-[state=open]:rotate-90"
          aria-hidden
        />
        <span>{summary}</span>
      </Collapsible.Trigger>
      <Collapsible.Content>{children}</Collapsible.Content>
    </Collapsible.Root>
  );
}
