"use client";

import { ChevronDown } from "lucide-react";
import { Link } from "../controls/link";
import { DropdownMenu } from "radix-ui";
import { useNarrow } from "../controls/use-narrow";

/** One stage of a study, with how it stands in words. */
export interface CourseStage {
  name: string;
  state: string;
  href: string;
  done: boolean;
}

/** The stages of a study in the order of the work; on a narrow screen the present one, with a menu of all. */
export function Course({ stages, current }: { stages: CourseStage[]; current: string }) {
  const isNarrow = useNarrow();
  return (
    <nav aria-label="Course of the study">
      {/* Nothing jumps while it is not known yet how wide the window is. */}
      <ol
        className="hidden md:grid"
        style={{ gridTemplateColumns: `repeat(${stages.length}, minmax(0, 1fr))` }}
      >
        {stages.map(({ name, state, href, done }) => (
          <li
            key={name}
            className={`border-t-[3px] pt-1.5 pr-3 ${done ? "border-solid border-flow" : "border-dashed border-hatch"}`}
          >
            <Link
              href={href}
              aria-current={name === current ? "page" : undefined}
              title={state}
              className="flex items-baseline gap-2 hover:underline"
            >
              <span
                className={`text-[16px] font-semibold ${name === current ? "border-b-[5px] border-flow/40" : ""}`}
              >
                {name}
              </span>
              <span className="min-w-0 truncate text-[14px] text-secondary">{state}</span>
            </Link>
          </li>
        ))}
      </ol>
      {isNarrow && <StageMenu stages={stages} current={current} />}
    </nav>
  );
}

/** The present stage, and a menu of all. */
function StageMenu({ stages, current }: { stages: CourseStage[]; current: string }) {
  const present = stages.find(({ name }) => name === current);
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="flex w-full items-baseline gap-2 border-t-[3px] border-flow py-1.5 text-left">
        <span className="text-[16px] font-semibold">{present?.name ?? "Answer"}</span>
        <span className="min-w-0 flex-1 truncate text-secondary">{present?.state}</span>
        <span className="flex items-center gap-1">
          All stages
          <ChevronDown size={14} aria-hidden />
        </span>
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={4}
          className="z-40 max-w-[calc(100vw-2rem)] border border-line bg-sheet p-1 shadow-lg"
        >
          {stages.map(({ name, state, href }) => (
            <DropdownMenu.Item key={name} asChild>
              <Link
                href={href}
                aria-current={name === current ? "page" : undefined}
                className="flex items-baseline gap-3 px-3 py-1.5 outline-none data-highlighted:bg-bank"
              >
                <span className="w-20 font-semibold">{name}</span>
                <span className="min-w-0 truncate text-secondary">{state}</span>
              </Link>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
