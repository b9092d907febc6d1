"use client";

import { Command } from "cmdk";
import { usePathname, useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { RateUnit } from "@/core/units/rate";
import { DATE_STYLES, NUMBER_STYLES } from "@/core/units/writing";
import { toggleTheme } from "./theme";
import { useChooseUnit } from "./unit";
import { chooseWriting } from "./writing";

export interface PaletteStudy {
  id: string;
  title: string;
}

/** The pages of a study, with other words that testers use for them. */
const STAGES = [
  { words: "Answer", path: "", keywords: ["read", "result", "headline", "bottleneck", "summary"] },
  { words: "Rigs", path: "/rigs", keywords: ["chain", "setup", "path", "build", "cable", "port"] },
  { words: "Measure", path: "/measure", keywords: ["run", "test", "benchmark", "plan", "drill"] },
  { words: "Compare", path: "/compare", keywords: ["table", "chart", "figures", "side by side"] },
  { words: "Locate", path: "/locate", keywords: ["cause", "suspect", "culprit", "swap", "slow"] },
  { words: "Judge", path: "/judge", keywords: ["claim", "verdict", "rated speed", "box"] },
  { words: "Report", path: "/report", keywords: ["export", "pdf", "publish", "print", "picture"] },
] as const;

/** The pages outside studies. */
const PAGES = [
  { words: "All studies", path: "/", keywords: ["home", "start", "samples", "demo"] },
  { words: "New study", path: "/#new", keywords: ["create", "add"] },
  { words: "Import a study", path: "/#import", keywords: ["open", "load", "file"] },
  {
    words: "Shelf",
    path: "/shelf",
    keywords: ["parts", "gear", "inventory", "claims", "enclosure"],
  },
  {
    words: "Link ledger",
    path: "/ledger",
    keywords: ["standards", "ceiling", "usb", "calculator"],
  },
  { words: "Watch", path: "/watch", keywords: ["live", "monitor", "drives", "disk", "network"] },
  { words: "Hosts", path: "/hosts", keywords: ["machines", "ssh", "remote", "computer", "laptop"] },
  { words: "Issued reports", path: "/reports", keywords: ["published", "issues"] },
  { words: "Removed", path: "/removed", keywords: ["undo", "bin", "trash", "deleted", "put back"] },
  {
    words: "Archive",
    path: "/archive",
    keywords: ["ask", "sql", "parquet", "question", "years", "history", "trend"],
  },
  { words: "Backups", path: "/backups", keywords: ["restore", "save", "copy", "safe"] },
] as const;

const ITEM =
  "flex cursor-pointer items-baseline gap-2 rounded-sm px-3 py-1.5 data-[selected=true]:bg-bank";

const GROUP =
  "[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-secondary";

/**
 * How well something answers to what is typed: every word of it has to stand in its name or in its other
 * words; where its name begins so, it comes first.
 */
function matches(value: string, search: string, keywords: string[] = []): number {
  const words = search.toLowerCase().split(/\s+/).filter(Boolean);
  const name = value.toLowerCase();
  const all = [name, ...keywords].join(" ").toLowerCase();
  if (!words.every((word) => all.includes(word))) return 0;
  return name.startsWith(words[0] ?? "") ? 1 : 0.5;
}

/** Everything reachable from anywhere: Ctrl K opens it, typing narrows it down. */
export function Palette({ studies }: { studies: PaletteStudy[] }) {
  const [open, setOpen] = useState(false);
  const router = useRouter();
  const path = usePathname();
  const chooseUnit = useChooseUnit();
  // The study that is open stands first.
  const ownFirst = studies.toSorted(
    (a, b) => Number(path.includes(b.id)) - Number(path.includes(a.id)),
  );

  useEffect(() => {
    const onKey = (event: KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault();
        setOpen((was) => !was);
      }
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  }, []);

  const run = (action: () => void) => () => {
    setOpen(false);
    action();
  };
  const go = (href: string) => run(() => router.push(href));

  return (
    <>
      <button
        type="button"
        onClick={() => setOpen(true)}
        aria-label="Ctrl K: open the command palette"
        className="figure rounded-sm border border-line px-1.5 text-xs leading-5 text-secondary hover:text-ink"
      >
        Ctrl K
      </button>
      <Command.Dialog
        open={open}
        onOpenChange={setOpen}
        label="Go to or do"
        filter={matches}
        overlayClassName="fixed inset-0 z-40 bg-ink/25"
        contentClassName="fixed left-1/2 top-24 z-50 w-[560px] max-w-[92vw] -translate-x-1/2 border border-line bg-sheet p-2 shadow-xl"
      >
        <Command.Input
          placeholder="Go to a study, the shelf, a page ..."
          className="w-full border-b border-line bg-transparent px-3 py-2 outline-none"
        />
        <Command.List className="max-h-80 overflow-y-auto pt-1">
          <Command.Empty className="px-3 py-2 text-secondary">Nothing found.</Command.Empty>
          {ownFirst.map(({ id, title }) => (
            <Command.Group key={id} heading={title} className={GROUP}>
              {STAGES.map(({ words, path, keywords }) => (
                <Command.Item
                  key={path}
                  value={`${title} ${words} ${id}`}
                  keywords={[...keywords]}
                  className={ITEM}
                  onSelect={go(`/studies/${id}${path}`)}
                >
                  {words}
                </Command.Item>
              ))}
            </Command.Group>
          ))}
          <Command.Group heading="Pages" className={GROUP}>
            {PAGES.map(({ words, path, keywords }) => (
              <Command.Item
                key={path}
                value={words}
                keywords={[...keywords]}
                className={ITEM}
                onSelect={go(path)}
              >
                {words}
              </Command.Item>
            ))}
          </Command.Group>
          <Command.Group heading="Settings" className={GROUP}>
            <Command.Item
              keywords={["theme", "night", "appearance"]}
              className={ITEM}
              onSelect={run(toggleTheme)}
            >
              Switch between light and dark
            </Command.Item>
            {RateUnit.options.map((unit) => (
              <Command.Item
                key={unit}
                value={`Show rates in ${unit}`}
                keywords={["unit", "units"]}
                className={ITEM}
                onSelect={run(() => chooseUnit(unit))}
              >
                Show rates in {unit}
              </Command.Item>
            ))}
            {Object.keys(NUMBER_STYLES).map((numbers) => (
              <Command.Item
                key={numbers}
                value={`Write numbers as ${numbers}`}
                keywords={["decimal", "comma", "thousands", "format"]}
                className={ITEM}
                onSelect={run(() => chooseWriting({ numbers }))}
              >
                Write numbers as {numbers}
              </Command.Item>
            ))}
            {DATE_STYLES.map((dates) => (
              <Command.Item
                key={dates}
                value={`Write days as ${dates}`}
                keywords={["date", "format", "month"]}
                className={ITEM}
                onSelect={run(() => chooseWriting({ dates }))}
              >
                Write days as {dates}
              </Command.Item>
            ))}
          </Command.Group>
        </Command.List>
      </Command.Dialog>
    </>
  );
}
