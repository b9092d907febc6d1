"use client";

import { Check, ChevronDown } from "lucide-react";
import { Select as Primitive } from "radix-ui";
import { useFieldLabel } from "./form";
import { BOX, ITEM, SHEET } from "./look";

/** One of the choices; the empty value stands for nothing said. */
export interface Option<V extends string = string> {
  value: V | "";
  text: string;
}

/** The primitive takes no empty value. */
const NOTHING = "(nothing)";

/** A choice of one from a short list; long lists are for the combobox, which can be searched. */
export function Select<V extends string>({
  label,
  name,
  value,
  options,
  onChange,
  disabled,
  className,
}: {
  /** What is chosen, where no field round it says so. */
  label?: string;
  name?: string;
  value: V | "";
  options: readonly Option<V>[];
  onChange: (value: V | "") => void;
  disabled?: boolean;
  className?: string;
}) {
  const labelId = useFieldLabel();
  return (
    <Primitive.Root
      value={value === "" ? NOTHING : value}
      onValueChange={(next) => onChange(next === NOTHING ? "" : (next as V))}
      disabled={disabled}
    >
      <Primitive.Trigger
        aria-label={label}
        aria-labelledby={label ? undefined : labelId}
        data-name={name}
        className={`${BOX} inline-flex items-center justify-between gap-2 text-left disabled:opacity-60 ${className ?? ""}`}
      >
        <span className="min-w-0 truncate">
          <Primitive.Value />
        </span>
        <Primitive.Icon asChild>
          <ChevronDown size={14} className="shrink-0 text-secondary" aria-hidden />
        </Primitive.Icon>
      </Primitive.Trigger>
      <Primitive.Portal>
        <Primitive.Content
          position="popper"
          sideOffset={2}
          className={`z-50 max-h-[min(24rem,var(--radix-select-content-available-height))] min-w-(--radix-select-trigger-width) max-w-[92vw] ${SHEET}`}
        >
          <Primitive.Viewport className="p-1.5">
            {options.map((option) => (
              <Primitive.Item
                key={option.value}
                value={option.value === "" ? NOTHING : option.value}
                className={`flex items-center justify-between gap-3 ${ITEM}`}
              >
                <Primitive.ItemText>{option.text}</Primitive.ItemText>
                <Primitive.ItemIndicator>
                  <Check size={14} aria-hidden />
                </Primitive.ItemIndicator>
              </Primitive.Item>
            ))}
          </Primitive.Viewport>
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}

/** Reading or writing, as a choice. */
export const DIRECTIONS = [
  { value: "read", text: "reading" },
  { value: "write", text: "writing" },
] as const;
