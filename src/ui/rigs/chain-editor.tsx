"use client";

import { ArrowDown, ArrowUp, X } from "lucide-react";
import type { ReactNode } from "react";
import { PART_KIND_NAMES, type Part } from "@/core/chain/part";
import { Tip } from "../controls/tip";
import { PartPicker } from "./part-picker";

/** A chain from host to drive as a list: exchange a part in its place, move it, take it out, add one. */
export function ChainEditor({
  legend,
  name,
  parts,
  onChange,
}: {
  legend: string;
  /** Tells its controls from those of another chain. */
  name: string;
  parts: Part[];
  onChange: (parts: Part[]) => void;
}) {
  const move = (from: number, to: number) =>
    onChange(parts.toSpliced(from, 1).toSpliced(to, 0, parts[from]!));
  return (
    <fieldset className="border border-line px-3 pb-3">
      <legend className="px-1 text-sm font-medium">{legend}</legend>
      <ol>
        {parts.map((part, i) => (
          <li key={part.id} className="flex items-center gap-2 py-0.5">
            <span className="w-24 shrink-0 text-[13px] text-secondary">
              {PART_KIND_NAMES[part.kind]}
            </span>
            <PartPicker
              label={`Another ${PART_KIND_NAMES[part.kind]} in place of ${part.name}`}
              shown={part.tag ? `${part.name} (${part.tag})` : part.name}
              className="font-medium"
              kinds={[part.kind]}
              before={parts.slice(0, i)}
              after={parts.slice(i + 1)}
              onPick={(next) => onChange(parts.with(i, next))}
            />
            {i > 0 && (
              <PartPicker
                label={`Insert a part before ${part.name}`}
                name={`before-${part.name}`}
                shown="insert above"
                plain
                className="!w-auto shrink-0 text-[13px] text-secondary"
                before={parts.slice(0, i)}
                after={parts.slice(i)}
                onPick={(next) => onChange(parts.toSpliced(i, 0, next))}
              />
            )}
            <Small label={`Move ${part.name} up`} off={i === 0} onClick={() => move(i, i - 1)}>
              <ArrowUp size={14} aria-hidden />
            </Small>
            <Small
              label={`Move ${part.name} down`}
              off={i === parts.length - 1}
              onClick={() => move(i, i + 1)}
            >
              <ArrowDown size={14} aria-hidden />
            </Small>
            <Small
              label={`Remove ${part.name}`}
              onClick={() => onChange(parts.filter(({ id }) => id !== part.id))}
            >
              <X size={14} aria-hidden />
            </Small>
          </li>
        ))}
      </ol>
      {parts.at(-1)?.kind !== "drive" && (
        <PartPicker
          label="Next part"
          name={name}
          className="mt-1 text-secondary"
          shown={parts.length === 0 ? "Start with a host port ..." : "Add the next part ..."}
          before={parts}
          after={[]}
          onPick={(part) => onChange([...parts, part])}
        />
      )}
    </fieldset>
  );
}

/** A small square button with a sign in it. */
export function Small({
  label,
  off,
  onClick,
  children,
}: {
  label: string;
  off?: boolean;
  onClick: () => void;
  children: ReactNode;
}) {
  return (
    <Tip text={label}>
      <button
        type="button"
        aria-label={label}
        disabled={off}
        onClick={onClick}
        className="rounded-sm border border-line p-1 disabled:opacity-30"
      >
        {children}
      </button>
    </Tip>
  );
}
