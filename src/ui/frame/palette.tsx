"use client";

import { Command } from "cmdk";
import { useRouter } from "next/navigation";
import { useEffect, useState } from "react";
import { toggleTheme } from "./theme";

export interface PaletteStudy {
  id: string;
  title: string;
}

const ITEM =
  "flex cursor-pointer items-baseline gap-2 rounded-sm px-3 py-1.5 data-[selected=true]:bg-bank";

const GROUP =
  "[&_[cmdk-group-heading]]:px-3 [&_[cmdk-group-heading]]:pt-2 [&_[cmdk-group-heading]]:text-xs [&_[cmdk-group-heading]]:text-secondary";

/** Everything reachable from anywhere: Ctrl K opens it, typing narrows it down. */
export function Palette({ studies }: { studies: PaletteStudy[] }) {
  const [open, setOpen] = useState(false);
  const router = useRouter();

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
        overlayClassName="fixed inset-0 z-40 bg-ink/25"
        contentClassName="fixed left-1/2 top-24 z-50 w-[560px] max-w-[92vw] -translate-x-1/2 border border-line bg-sheet p-2 shadow-xl"
      >
        <Command.Input
          placeholder="Go to a study, the shelf, a page ..."
          className="w-full border-b border-line bg-transparent px-3 py-2 outline-none"
        />
        <Command.List className="max-h-80 overflow-y-auto pt-1">
          <Command.Empty className="px-3 py-2 text-secondary">Nothing of that name.</Command.Empty>
          {studies.map(({ id, title }) => (
            <Command.Group key={id} heading={title} className={GROUP}>
              <Command.Item
                value={`${title} ${id} answer`}
                className={ITEM}
                onSelect={go(`/studies/${id}`)}
              >
                Read the answer
              </Command.Item>
              <Command.Item
                value={`${title} ${id} rigs`}
                className={ITEM}
                onSelect={go(`/studies/${id}/rigs`)}
              >
                Rigs
              </Command.Item>
              <Command.Item
                value={`${title} ${id} measure`}
                className={ITEM}
                onSelect={go(`/studies/${id}/measure`)}
              >
                Measure
              </Command.Item>
              <Command.Item
                value={`${title} ${id} report`}
                className={ITEM}
                onSelect={go(`/studies/${id}/report`)}
              >
                Report
              </Command.Item>
            </Command.Group>
          ))}
          <Command.Group heading="Everywhere" className={GROUP}>
            <Command.Item className={ITEM} onSelect={go("/")}>
              All studies
            </Command.Item>
            <Command.Item className={ITEM} onSelect={go("/#new")}>
              New study
            </Command.Item>
            <Command.Item className={ITEM} onSelect={go("/shelf")}>
              Shelf
            </Command.Item>
            <Command.Item className={ITEM} onSelect={go("/ledger")}>
              Link ledger
            </Command.Item>
            <Command.Item className={ITEM} onSelect={go("/reports")}>
              Issued reports
            </Command.Item>
            <Command.Item className={ITEM} onSelect={go("/watch")}>
              Watch
            </Command.Item>
            <Command.Item className={ITEM} onSelect={run(toggleTheme)}>
              Switch between light and dark
            </Command.Item>
          </Command.Group>
        </Command.List>
      </Command.Dialog>
    </>
  );
}
