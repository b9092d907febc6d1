"use client";

import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { PART_KIND_NAMES, PartKind } from "@/core/chain/part";
import { formatNumber } from "@/core/units/number";
import { Dialog } from "../controls/dialog";
import { Button, Input } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { Tip } from "../controls/tip";
import { sayFailed, sayRemoved, saySaved } from "../controls/toast";
import { useKey } from "../controls/use-key";
import { usualCurrency } from "../gear/currency";
import { emptyPart, typedFrom, type TypedPart } from "../gear/part-draft";
import { PartForm } from "../gear/part-form";
import { ShelfFiles } from "./shelf-files";
import { SlowerParts, type Slower } from "./slower-parts";
import { ShelfTable, type Shelved } from "./shelf-table";

type Gear = "own" | "sample" | "all";

const WHOSE: { value: Gear; text: string }[] = [
  { value: "own", text: "your own parts" },
  { value: "sample", text: "parts of the sample studies" },
  { value: "all", text: "all parts" },
];

const KIND_OPTIONS = PartKind.options.map((kind) => ({
  value: kind,
  text: PART_KIND_NAMES[kind],
}));

type Editing = { id: string | null; typed: TypedPart } | null;

/** One page of the parts that the bench owns, by kind, with what is sought in the address. */
export function ShelfView({
  parts,
  total,
  sought,
  kind,
  page,
  pageSize,
  gear,
  slower,
  waiting,
}: {
  parts: Shelved[];
  /** How many answer to what is sought, on all pages. */
  total: number;
  sought: string;
  kind: PartKind | null;
  page: number;
  pageSize: number;
  /** Whose parts are shown; null where there is no sample data. */
  gear: Gear | null;
  /** What became slower, the most first. */
  slower: Slower[];
  /** Studies whose runs are still being read. */
  waiting: number;
}) {
  const router = useRouter();
  const [editing, setEditing] = useState<Editing>(null);
  const search = useRef<HTMLInputElement>(null);
  const add = () =>
    setEditing({ id: null, typed: emptyPart(kind ?? "enclosure", usualCurrency()) });
  useKey("/", () => search.current?.focus());
  useKey("n", add);
  async function retire({ id }: Shelved, retired: boolean): Promise<string | null> {
    const sent = await send("PATCH", `/api/parts/${id}`, { retired });
    router.refresh();
    return sent.ok ? null : sent.error.message;
  }
  const go = (next: { sought?: string; kind?: string; page?: number; gear?: string }) => {
    const query = new URLSearchParams({
      ...(gear ? { gear: next.gear ?? gear } : {}),
      q: next.sought ?? sought,
      kind: next.kind ?? kind ?? "",
      page: String(next.page ?? 0),
    });
    router.replace(`/shelf?${query}`, { scroll: false });
  };

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-end gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Shelf</h1>
        {gear && (
          <Select
            label="Whose parts"
            name="shelf-gear"
            className="!w-auto"
            value={gear}
            options={WHOSE}
            onChange={(next) => next !== "" && go({ gear: next })}
          />
        )}
        <Select
          label="Kind of part"
          name="shelf-kind"
          className="!w-auto"
          value={kind ?? ""}
          options={[{ value: "", text: "every kind" }, ...KIND_OPTIONS]}
          onChange={(next) => go({ kind: next })}
        />
        <Input
          ref={search}
          aria-label="Search the shelf"
          placeholder="Search name, maker, tag, serial  ( / )"
          defaultValue={sought}
          onChange={(event) => go({ sought: event.target.value })}
          className="!w-64"
        />
        <ShelfFiles />
        <Tip text="or press N">
          <Button main onClick={add}>
            Add a part
          </Button>
        </Tip>
      </div>
      <SlowerParts slower={slower} waiting={waiting} />
      <div className="border border-line bg-sheet p-3">
        {gear === "sample" && (
          <p className="px-3 pb-2 text-[13px] text-secondary">
            Sample data: these parts are invented, and are offered for no rig of yours.
          </p>
        )}
        {total === 0 && sought === "" && kind === null ? (
          <p className="p-3">
            The shelf is empty. Enter the port, cables, enclosures and the drive you want to
            compare, each item by itself.
          </p>
        ) : parts.length === 0 ? (
          <p className="p-3">
            No {kind ? PART_KIND_NAMES[kind] : "part"} answers{sought && ` to “${sought}”`}.
          </p>
        ) : (
          <ShelfTable
            parts={parts}
            onEdit={(part) => setEditing({ id: part.id, typed: typedFrom(part) })}
            onDuplicate={(part) =>
              // One serial number belongs to one item, and so do its pictures.
              setEditing({
                id: null,
                typed: { ...typedFrom(part), name: `${part.name} (2)`, serial: "", photos: [] },
              })
            }
            onRetire={async (part) => {
              const failed = await retire(part, !part.retired);
              if (failed) sayFailed(failed);
              else if (part.retired) saySaved(`${part.name} is back on the shelf.`);
              else sayRemoved(`${part.name} is retired.`, () => retire(part, false));
            }}
          />
        )}
        {total > pageSize && (
          <div className="flex items-center justify-end gap-3 pt-2">
            <span className="text-secondary">
              {formatNumber(page * pageSize + 1)} to{" "}
              {formatNumber(Math.min(total, (page + 1) * pageSize))} of {formatNumber(total)}
            </span>
            <Button disabled={page === 0} onClick={() => go({ page: page - 1 })}>
              Before
            </Button>
            <Button
              disabled={(page + 1) * pageSize >= total}
              onClick={() => go({ page: page + 1 })}
            >
              After
            </Button>
          </div>
        )}
      </div>
      <Dialog
        title={editing?.id ? "Change a part" : "A part for the shelf"}
        open={editing !== null}
        onOpenChange={(open) => !open && setEditing(null)}
      >
        {editing && (
          <PartForm
            id={editing.id}
            initial={editing.typed}
            onSaved={() => {
              setEditing(null);
              // What was just entered is the tester's own, and is to be seen.
              if (gear === "sample") go({ gear: "own" });
              router.refresh();
            }}
          />
        )}
      </Dialog>
    </>
  );
}
