"use client";

import { ToggleGroup } from "radix-ui";
import type { ReactNode } from "react";

/** A few choices side by side, of which one is in force. */
export function Toggle<V extends string>({
  label,
  value,
  options,
  onChange,
}: {
  /** What is chosen, for those who cannot see where it stands. */
  label: string;
  value: V;
  options: readonly { value: V; text: ReactNode }[];
  onChange: (value: V) => void;
}) {
  return (
    <ToggleGroup.Root
      type="single"
      aria-label={label}
      value={value}
      // Pressing what is in force already would leave nothing chosen.
      onValueChange={(next) => next && onChange(next as V)}
      className="inline-flex max-w-full flex-wrap rounded-sm border border-line bg-paper"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className="px-2.5 py-1 text-sm first:rounded-l-sm last:rounded-r-sm hover:underline data-[state=on]:bg-ink data-[state=on]:text-paper"
        >
          {option.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
