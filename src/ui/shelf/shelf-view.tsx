"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { PART_KIND_NAMES, PartKind, type Part } from "@/core/chain/part";
import { bestMode } from "@/core/chain/link";
import { impossibleClaim } from "@/core/judge/verdict";
import { formatNumber, formatRate } from "@/core/units/number";
import { formatSize } from "@/core/units/size";
import { Dialog } from "../controls/dialog";
import { Button, Input } from "../controls/form";
import { send } from "../controls/send";
import { emptyPart, typedFrom, type TypedPart } from "./part-draft";
import { PartForm } from "./part-form";
import { ShelfFiles } from "./shelf-files";

type Shelved = Part & { retired: boolean };
type Editing = { id: string | null; typed: TypedPart } | null;

const HEAD = "border-b border-line px-2 py-1 text-left text-[13px] font-medium text-secondary";
const CELL = "border-b border-line px-2 py-1.5 align-baseline";

/** One page of the parts that the bench owns, by kind, with what is sought in the address. */
export function ShelfView({
  parts,
  total,
  sought,
  page,
  pageSize,
}: {
  parts: Shelved[];
  /** How many answer to what is sought, on all pages. */
  total: number;
  sought: string;
  page: number;
  pageSize: number;
}) {
  const router = useRouter();
  const [editing, setEditing] = useState<Editing>(null);
  const go = (next: { sought?: string; page?: number }) => {
    const query = new URLSearchParams({ q: next.sought ?? sought, page: String(next.page ?? 0) });
    router.replace(`/shelf?${query}`, { scroll: false });
  };

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-end gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Shelf</h1>
        <Input
          aria-label="Search the shelf"
          placeholder="Search name, maker, tag, kind"
          defaultValue={sought}
          onChange={(event) => go({ sought: event.target.value })}
          className="!w-64"
        />
        <ShelfFiles />
        <Button main onClick={() => setEditing({ id: null, typed: emptyPart("host-port") })}>
          Add a part
        </Button>
      </div>
      <div className="border border-line bg-sheet p-3">
        {total === 0 && sought === "" ? (
          <p className="p-3">
            The shelf is empty. Enter the port, cables, enclosures and the drive you want to
            compare, each item by itself.
          </p>
        ) : parts.length === 0 ? (
          <p className="p-3">No part answers to “{sought}”.</p>
        ) : (
          <table className="w-full">
            <thead>
              <tr>
                <th className={HEAD}>name</th>
                <th className={HEAD}>maker, model</th>
                <th className={HEAD}>tag</th>
                <th className={HEAD}>best link</th>
                <th className={`${HEAD} text-right`}>own read / write, MB/s</th>
                <th className={`${HEAD} text-right`}>claims read / write, MB/s</th>
                <th className={`${HEAD} text-right`}>capacity</th>
                <th className={`${HEAD} text-right`}>price</th>
                <th className={HEAD} />
              </tr>
            </thead>
            {PartKind.options.map((kind) => (
              <Group
                key={kind}
                kind={kind}
                parts={parts.filter((part) => part.kind === kind)}
                onEdit={setEditing}
                onRetire={async (part) => {
                  await send("PATCH", `/api/parts/${part.id}`, { retired: !part.retired });
                  router.refresh();
                }}
              />
            ))}
          </table>
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
              router.refresh();
            }}
          />
        )}
      </Dialog>
    </>
  );
}

function Group({
  kind,
  parts,
  onEdit,
  onRetire,
}: {
  kind: PartKind;
  parts: Shelved[];
  onEdit: (editing: Editing) => void;
  onRetire: (part: Shelved) => void;
}) {
  if (parts.length === 0) return null;
  return (
    <tbody>
      <tr>
        <th colSpan={9} className="px-2 pt-3 pb-1 text-left font-semibold">
          {PART_KIND_NAMES[kind]}
          {parts.length > 1 && "s"}
        </th>
      </tr>
      {parts.map((part) => (
        <tr key={part.id} className={part.retired ? "text-secondary line-through" : ""}>
          <td className={`${CELL} font-medium [overflow-wrap:anywhere]`}>{part.name}</td>
          <td className={CELL}>{[part.maker, part.model].filter(Boolean).join(", ")}</td>
          <td className={CELL}>{part.tag}</td>
          <td className={CELL}>
            {part.connectors.map(({ modes }) => bestMode(modes)?.name).join(" → ")}
          </td>
          <td className={`${CELL} figure text-right`}>
            {pair(part.limits.read, part.limits.write)}
          </td>
          <td className={`${CELL} figure text-right`}>
            {pair(
              part.claims.find((c) => c.direction === "read")?.mbps,
              part.claims.find((c) => c.direction === "write")?.mbps,
            )}
            {part.claims.some((claim) => impossibleClaim(part, claim).length > 0) && (
              <span className="block font-sans text-[13px]">⚠ more than its link</span>
            )}
          </td>
          <td className={`${CELL} figure text-right`}>
            {part.capacityBytes && formatSize(part.capacityBytes, 1000)}
          </td>
          <td className={`${CELL} figure text-right`}>
            {part.price && `${part.price.amount} ${part.price.currency}`}
          </td>
          <td className={`${CELL} text-right whitespace-nowrap`}>
            <button
              type="button"
              className="underline"
              onClick={() => onEdit({ id: part.id, typed: typedFrom(part) })}
            >
              Edit
            </button>{" "}
            <button
              type="button"
              className="underline"
              onClick={() =>
                onEdit({ id: null, typed: { ...typedFrom(part), name: `${part.name} (2)` } })
              }
            >
              Duplicate
            </button>{" "}
            <button type="button" className="underline" onClick={() => onRetire(part)}>
              {part.retired ? "Put back" : "Retire"}
            </button>
          </td>
        </tr>
      ))}
    </tbody>
  );
}

function pair(read: number | undefined, write: number | undefined): string {
  if (read === undefined && write === undefined) return "";
  const show = (rate: number | undefined) => (rate === undefined ? "—" : formatRate(rate));
  return `${show(read)} / ${show(write)}`;
}
