"use client";

import { DropdownMenu } from "radix-ui";
import { usePathname, useRouter } from "next/navigation";
import { counted } from "@/core/units/counted";
import type { Direction, RateUnit } from "@/core/units/rate";

/** The question the page answers, as a sentence whose underlined words can be changed. */
export function QuestionLine({
  drives,
  several,
  drill,
  drills,
  summary,
  rigCount,
  direction,
  unit,
}: {
  drives: string;
  several: boolean;
  /** The drill that is asked for, by name, and those that can be. */
  drill: string;
  drills: { name: string; title: string; what: string }[];
  /** What is set of it, in a few words. */
  summary: string;
  rigCount: number;
  direction: Direction;
  unit: RateUnit;
}) {
  const router = useRouter();
  const path = usePathname();
  const ask = (next: { direction?: Direction; unit?: RateUnit; drill?: string }) => {
    const query = new URLSearchParams({ direction, unit, drill, ...next });
    router.replace(`${path}?${query}`, { scroll: false });
  };
  return (
    <p className="text-base text-secondary">
      How {several ? "do" : "does"} <b className="text-ink">{drives}</b> do{" "}
      <Choice
        label="Drill"
        value={drill}
        options={Object.fromEntries(drills.map(({ name, title }) => [name, title]))}
        hints={Object.fromEntries(drills.map(({ name, what }) => [name, what]))}
        onChange={(value) => ask({ drill: value })}
      />{" "}
      <span className="text-sm">({summary})</span> through{" "}
      <b className="text-ink">{counted(rigCount, "rig")}</b>,{" "}
      <Choice
        label="Direction"
        value={direction}
        options={{ read: "reading", write: "writing" }}
        onChange={(value) => ask({ direction: value })}
      />
      , against <b className="text-ink">the link ceiling</b>, in{" "}
      <Choice
        label="Unit"
        value={unit}
        options={{ "MB/s": "MB/s", "MiB/s": "MiB/s", "Gb/s": "Gb/s", "GB/s": "GB/s" }}
        onChange={(value) => ask({ unit: value })}
      />
      ?
    </p>
  );
}

function Choice<T extends string>({
  label,
  value,
  options,
  hints,
  onChange,
}: {
  label: string;
  value: T;
  options: Record<T, string>;
  /** What each means, in a few words. */
  hints?: Record<string, string>;
  onChange: (value: T) => void;
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`${label}: ${options[value]}`}
        className="word-control leading-5"
      >
        {options[value]}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="start"
          sideOffset={4}
          className="z-30 min-w-28 border border-line bg-sheet p-1 shadow-lg"
        >
          <DropdownMenu.RadioGroup value={value} onValueChange={(next) => onChange(next as T)}>
            {(Object.keys(options) as T[]).map((option) => (
              <DropdownMenu.RadioItem
                key={option}
                value={option}
                className="cursor-pointer px-3 py-1 outline-none data-highlighted:bg-bank data-[state=checked]:font-semibold"
              >
                {options[option]}
                {hints?.[option] && <span className="text-secondary">: {hints[option]}</span>}
              </DropdownMenu.RadioItem>
            ))}
          </DropdownMenu.RadioGroup>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
