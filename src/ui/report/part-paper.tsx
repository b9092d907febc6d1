"use client";

import { useState } from "react";
import type { SheetColumn } from "@/core/report/sheet";
import { Checkbox } from "../controls/checkbox";
import { Toggle } from "../controls/toggle";
import { useUnit } from "../frame/unit";

/** The card of a part, or all its rigs side by side with the columns that were picked. */
export function PartPaper({
  partId,
  columns,
  usual,
}: {
  partId: string;
  columns: readonly SheetColumn[];
  usual: readonly string[];
}) {
  const unit = useUnit();
  const [what, setWhat] = useState<"card" | "sheet">("card");
  const [picked, setPicked] = useState<readonly string[]>(usual);
  const query = new URLSearchParams({ unit });
  if (what === "sheet") {
    query.set("sheet", "");
    // Columns keep the order in which they are listed.
    for (const { key } of columns) if (picked.includes(key)) query.append("column", key);
  }
  const href = `/api/parts/${partId}/report?${query}`;
  return (
    <div className="mt-3 grid grid-cols-[minmax(0,1fr)] gap-6 lg:grid-cols-[minmax(240px,280px)_minmax(0,1fr)]">
      <div className="space-y-4">
        <Toggle
          label="What is printed"
          value={what}
          options={[
            { value: "card", text: "Shelf card" },
            { value: "sheet", text: "Side by side" },
          ]}
          onChange={setWhat}
        />
        <p>
          {what === "card"
            ? "What it claims, what it has been shown to carry, every rig it stood in, and whether it gets slower: one page."
            : "Every rig that it stands in, of all studies, with the columns picked here."}
        </p>
        <p>
          <a className="underline" href={href} target="_blank" rel="noreferrer">
            Open it, to print it or keep it as PDF
          </a>
        </p>
        {what === "sheet" && (
          <fieldset className="space-y-1">
            <legend className="mb-1 font-semibold">Columns</legend>
            {columns.map(({ key, name }) => (
              <Checkbox
                key={key}
                checked={picked.includes(key)}
                onChange={(on) =>
                  setPicked(on ? [...picked, key] : picked.filter((one) => one !== key))
                }
              >
                {name}
              </Checkbox>
            ))}
          </fieldset>
        )}
      </div>
      <iframe
        key={href}
        title={what === "card" ? "The shelf card" : "All rigs side by side"}
        src={href}
        className="h-[calc(100vh-110px)] min-h-[480px] w-full border border-line bg-sheet"
      />
    </div>
  );
}
