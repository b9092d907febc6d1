"use client";

import { Command } from "cmdk";
import { ChevronDown } from "lucide-react";
import { Popover } from "radix-ui";
import { useState, type ReactNode } from "react";
import { BOX, ITEM, SHEET } from "./look";

/** Something to choose; `why` says why it cannot be chosen now. */
export interface Choice {
  id: string;
  text: string;
  hint?: string;
  why?: string;
}

export interface Choices {
  heading: string;
  items: Choice[];
}

const FIELD = `${BOX} flex items-center justify-between gap-2 text-left`;

/** What is searched in, and what tells a choice from all others. */
const valueOf = ({ id, text, hint }: Choice) => [text, hint, id].filter(Boolean).join(" ");

/** The items of a group in which every word stands that is sought. */
function answering({ heading, items }: Choices, sought: string): Choices {
  const words = sought.toLowerCase().split(/\s+/).filter(Boolean);
  const answers = (item: Choice) => {
    const text = valueOf(item).toLowerCase();
    return words.every((word) => text.includes(word));
  };
  return { heading, items: items.filter(answers) };
}

/** A button that opens a list to search in, by keyboard or pointer. */
export function Combobox({
  label,
  name,
  shown,
  groups,
  onPick,
  onSearch,
  busy = false,
  note,
  plain = false,
  className,
}: {
  /** What is being chosen, for those who cannot see where it stands. */
  label: string;
  name?: string;
  /** What the button says: the present choice, or what to do. */
  shown: ReactNode;
  groups: readonly Choices[];
  onPick: (id: string) => void;
  /** Where the list is found elsewhere: told what is sought, first when the list opens. */
  onSearch?: (sought: string) => void;
  /** Whether the list is still being found: until then nothing of it can be taken. */
  busy?: boolean;
  /** Looks like a word to press, not like a field. */
  plain?: boolean;
  /** Said under the list. */
  note?: string;
  className?: string;
}) {
  const [open, setOpen] = useState(false);
  const [marked, setMarked] = useState("");
  const [sought, setSought] = useState("");
  const found = onSearch ? groups : groups.map((group) => answering(group, sought));
  // The first that can be chosen is marked, also when the list has changed meanwhile.
  const values = found
    .flatMap(({ items }) => items)
    .filter(({ why }) => why === undefined)
    .map(valueOf);
  const toggle = (next: boolean) => {
    setOpen(next);
    if (next) seek("");
  };
  const seek = (text: string) => {
    setSought(text);
    onSearch?.(text);
  };
  return (
    <Popover.Root open={open} onOpenChange={toggle}>
      <Popover.Trigger asChild>
        <button
          type="button"
          data-name={name}
          className={`${plain ? "" : FIELD} ${className ?? (plain ? "underline" : "")}`}
        >
          <span className="min-w-0 truncate">
            <span className="sr-only">{label}: </span>
            {shown}
          </span>
          {!plain && <ChevronDown size={14} className="shrink-0 text-secondary" aria-hidden />}
        </button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          aria-label={label}
          align="start"
          sideOffset={2}
          collisionPadding={12}
          className={`z-50 w-[420px] max-w-[92vw] p-1.5 ${SHEET}`}
        >
          <Command
            shouldFilter={false}
            label={label}
            value={values.includes(marked) ? marked : (values[0] ?? "")}
            onValueChange={setMarked}
          >
            <Command.Input
              autoFocus
              aria-label={`Search: ${label}`}
              placeholder="Type to search"
              value={sought}
              onValueChange={seek}
              className="w-full border-b border-line bg-transparent px-2 py-1.5 outline-none"
            />
            <Command.List aria-busy={busy} className="max-h-72 overflow-y-auto pt-1">
              <Command.Empty className="px-2 py-1.5 text-secondary">Nothing found.</Command.Empty>
              {found
                .filter(({ items }) => items.length > 0)
                .map(({ heading, items }) => (
                  <Command.Group
                    key={heading}
                    heading={heading}
                    className="[&_[cmdk-group-heading]]:px-2 [&_[cmdk-group-heading]]:pt-1.5 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-secondary"
                  >
                    {items.map(({ id, text, hint, why }) => (
                      <Command.Item
                        key={id}
                        value={valueOf({ id, text, hint })}
                        disabled={why !== undefined}
                        onSelect={() => {
                          if (busy) return;
                          setOpen(false);
                          onPick(id);
                        }}
                        className={`${ITEM} data-[disabled=false]:cursor-pointer data-[disabled=false]:text-ink data-[disabled=true]:cursor-default data-[disabled=true]:text-secondary`}
                      >
                        {text}
                        {(why ?? hint) && (
                          <span className="block text-[13px] text-secondary">{why ?? hint}</span>
                        )}
                      </Command.Item>
                    ))}
                  </Command.Group>
                ))}
            </Command.List>
          </Command>
          {note && <p className="px-2 pt-1 text-[13px] text-secondary">{note}</p>}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
