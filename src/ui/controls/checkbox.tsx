"use client";

import { Check } from "lucide-react";
import { Checkbox as Primitive } from "radix-ui";
import { useId, type ReactNode } from "react";

/** A box to tick, with its label. */
export function Checkbox({
  checked,
  onChange,
  children,
  mode,
  className,
}: {
  checked: boolean;
  onChange: (checked: boolean) => void;
  children: ReactNode;
  /** The link mode that it stands for. */
  mode?: string;
  className?: string;
}) {
  const id = useId();
  return (
    <span className={`flex items-center gap-1.5 ${className ?? ""}`}>
      <Primitive.Root
        id={id}
        checked={checked}
        onCheckedChange={(next) => onChange(next === true)}
        data-mode={mode}
        className="size-[15px] shrink-0 rounded-[3px] border border-secondary bg-paper data-[state=checked]:border-flow data-[state=checked]:bg-flow"
      >
        <Primitive.Indicator className="flex justify-center text-paper">
          <Check size={12} strokeWidth={3} aria-hidden />
        </Primitive.Indicator>
      </Primitive.Root>
      <label htmlFor={id}>{children}</label>
    </span>
  );
}
