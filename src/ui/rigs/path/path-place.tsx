"use client";

import { Plus, X } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { PART_KIND_NAMES, type Part, type PartKind } from "@/core/chain/part";
import { ITEM, SHEET } from "../../controls/look";
import { PartPicker } from "../part-picker";

/** A place on a path as it is being filled. */
export interface Place {
  key: number;
  kind: PartKind;
  /** What belongs there; empty where nothing more is to be said. */
  what: string;
  parts: Part[];
}

/** One place of a path: the parts that take it in turn, and a way to add another. */
export function PathPlace({
  place: { kind, what, parts },
  before,
  after,
  onAdd,
  onTake,
  onRemove,
}: {
  place: Place;
  /** The parts that stand before and after it, one of each place. */
  before: readonly Part[];
  after: readonly Part[];
  onAdd: (part: Part) => void;
  /** Takes a part out of the place, by its id. */
  onTake: (id: string) => void;
  /** Takes the place out of the path; null where it has to be there. */
  onRemove: (() => void) | null;
}) {
  const name = PART_KIND_NAMES[kind];
  return (
    <fieldset data-place={kind} className="min-w-0 border border-line bg-paper px-2 pb-2">
      <legend className="flex items-center gap-1 px-1 text-[13px] text-secondary">
        {name}
        {onRemove && (
          <button type="button" aria-label={`Remove the place of the ${name}`} onClick={onRemove}>
            <X size={12} aria-hidden />
          </button>
        )}
      </legend>
      <ul>
        {parts.map((part) => (
          <li key={part.id} className="flex items-baseline gap-1 text-sm font-medium">
            <span className="mr-auto min-w-0 [overflow-wrap:anywhere]">
              {part.name}
              {part.tag && <span className="font-normal text-secondary"> ({part.tag})</span>}
            </span>
            <button
              type="button"
              aria-label={`Remove ${part.name}`}
              onClick={() => onTake(part.id)}
            >
              <X size={13} aria-hidden />
            </button>
          </li>
        ))}
      </ul>
      {what && <p className="mt-1 text-[13px] text-secondary">{what}</p>}
      <PartPicker
        label={parts.length === 0 ? `The ${name}` : `Another ${name}, for further rigs`}
        name={`place-${kind}`}
        shown={parts.length === 0 ? "choose, or type what it is" : "+ another to compare"}
        plain
        className={`text-left text-sm underline ${parts.length === 0 ? "" : "text-secondary"}`}
        kinds={[kind]}
        before={before}
        after={after}
        open
        except={parts}
        onPick={onAdd}
      />
    </fieldset>
  );
}

const BETWEEN: readonly PartKind[] = ["cable", "hub", "adapter", "enclosure", "network-box"];

/** Puts a further place into a path, between two others. */
export function InsertPlace({ onInsert }: { onInsert: (kind: PartKind) => void }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label="Insert a place here"
        className="self-center rounded-sm border border-line p-0.5 text-secondary hover:border-secondary hover:text-ink"
      >
        <Plus size={13} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content sideOffset={4} className={`z-50 p-1 ${SHEET}`}>
          {BETWEEN.map((kind) => (
            <DropdownMenu.Item key={kind} className={ITEM} onSelect={() => onInsert(kind)}>
              {PART_KIND_NAMES[kind]}
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
