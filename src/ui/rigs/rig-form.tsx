"use client";

import { ArrowDown, ArrowUp, X } from "lucide-react";
import { useMemo, useState } from "react";
import { PART_KIND_NAMES, type Part } from "@/core/chain/part";
import { linksOf } from "@/core/chain/link";
import { rigProblems, type Rig } from "@/core/chain/rig";
import { TransportId } from "@/core/ledger/mode";
import { TRANSPORT_NAMES } from "@/core/ledger/account";
import { Button, Field, Input, Select, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { LinkTable } from "./link-table";

/** A rig as it is being put together. */
export interface TypedRig {
  id: string | null;
  name: string;
  partIds: string[];
  transport: string;
  fileSystem: string;
}

/** Puts parts in order to a rig; links, ceilings and the predicted narrows show at once. */
export function RigForm({
  studyId,
  shelf,
  initial,
  onSaved,
}: {
  studyId: string;
  shelf: Part[];
  initial: TypedRig;
  onSaved: () => void;
}) {
  const [typed, setTyped] = useState(initial);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const byId = useMemo(() => new Map(shelf.map((part) => [part.id, part])), [shelf]);
  const parts = typed.partIds.flatMap((id) => byId.get(id) ?? []);
  const setParts = (partIds: string[]) => setTyped((was) => ({ ...was, partIds }));
  const rig: Rig = {
    id: typed.id ?? "new",
    name: typed.name,
    parts,
    transport: TransportId.safeParse(typed.transport).data ?? null,
    fileSystem: typed.fileSystem,
  };
  const problems = rigProblems(parts);

  async function save() {
    setBusy(true);
    const body = {
      name: typed.name || parts.map(({ name }) => name).join(" · "),
      partIds: typed.partIds,
      transport: rig.transport,
      fileSystem: typed.fileSystem,
    };
    const sent = typed.id
      ? await send("PUT", `/api/rigs/${typed.id}`, body)
      : await send("POST", `/api/studies/${studyId}/rigs`, body);
    setBusy(false);
    if (sent.ok) onSaved();
    else setTrouble(sent.error.message);
  }

  const move = (from: number, to: number) => {
    const next = [...typed.partIds];
    next.splice(to, 0, ...next.splice(from, 1));
    setParts(next);
  };

  return (
    <form
      noValidate
      className="space-y-3"
      onSubmit={(event) => {
        event.preventDefault();
        void save();
      }}
    >
      <div className="grid grid-cols-[2fr_1.4fr_1fr] gap-3">
        <Field label="Name" hint="left empty, the parts name it">
          <Input
            name="rig-name"
            value={typed.name}
            onChange={(event) => setTyped({ ...typed, name: event.target.value })}
          />
        </Field>
        <Field label="Driver mode">
          <Select
            name="transport"
            value={typed.transport}
            onChange={(event) => setTyped({ ...typed, transport: event.target.value })}
          >
            <option value="">the usual one</option>
            {transportsFor(rig).map((id) => (
              <option key={id} value={id}>
                {TRANSPORT_NAMES[id]}
              </option>
            ))}
          </Select>
        </Field>
        <Field label="File system">
          <Input
            name="fileSystem"
            value={typed.fileSystem}
            placeholder="ext4, exFAT ..."
            onChange={(event) => setTyped({ ...typed, fileSystem: event.target.value })}
          />
        </Field>
      </div>

      <fieldset className="border border-line px-3 pb-3">
        <legend className="px-1 text-sm font-medium">Parts, from host to drive</legend>
        <ol>
          {parts.map((part, i) => (
            <li key={part.id} className="flex items-center gap-2 py-0.5">
              <span className="w-20 text-[13px] text-secondary">{PART_KIND_NAMES[part.kind]}</span>
              <Select
                aria-label={`The ${PART_KIND_NAMES[part.kind]} in place ${i + 1}`}
                value={part.id}
                className="mr-auto font-medium"
                onChange={(event) => setParts(typed.partIds.with(i, event.target.value))}
              >
                {shelf
                  .filter(
                    ({ id, kind }) =>
                      kind === part.kind && (id === part.id || !typed.partIds.includes(id)),
                  )
                  .map(({ id, name, tag }) => (
                    <option key={id} value={id}>
                      {name}
                      {tag && ` (${tag})`}
                    </option>
                  ))}
              </Select>
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
                label={`Take ${part.name} out`}
                onClick={() => setParts(typed.partIds.filter((id) => id !== part.id))}
              >
                <X size={14} aria-hidden />
              </Small>
            </li>
          ))}
        </ol>
        <NextPart
          shelf={shelf}
          parts={parts}
          onAdd={(id) => {
            const last = parts.at(-1)?.kind === "drive" ? typed.partIds.length - 1 : undefined;
            setParts(typed.partIds.toSpliced(last ?? typed.partIds.length, 0, id));
          }}
        />
      </fieldset>

      {parts.length > 1 && <LinkTable rig={rig} />}
      {parts.length > 1 && problems.length > 0 && (
        <p className="text-secondary">{problems.join(" ")}</p>
      )}
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex justify-end">
        <Button main type="submit" disabled={busy || problems.length > 0}>
          {typed.id ? "Save the rig" : "Add the rig"}
        </Button>
      </div>
    </form>
  );
}

function transportsFor(rig: Rig): TransportId[] {
  return [
    ...new Set(linksOf(rig).flatMap(({ mode }) => mode?.transports.map(({ id }) => id) ?? [])),
  ].filter((id) => id !== "stated");
}

function Small({
  label,
  off,
  onClick,
  children,
}: {
  label: string;
  off?: boolean;
  onClick: () => void;
  children: React.ReactNode;
}) {
  return (
    <button
      type="button"
      aria-label={label}
      title={label}
      disabled={off}
      onClick={onClick}
      className="rounded-sm border border-line p-1 disabled:opacity-30"
    >
      {children}
    </button>
  );
}

/**
 * Offers the parts that can stand next, or before the drive where there is one; the rest are listed
 * with the reason why they cannot.
 */
function NextPart({
  shelf,
  parts,
  onAdd,
}: {
  shelf: Part[];
  parts: Part[];
  onAdd: (id: string) => void;
}) {
  const complete = parts.at(-1)?.kind === "drive";
  const before = complete ? parts.slice(0, -1) : parts;
  const offers = shelf
    .filter((part) => !parts.some(({ id }) => id === part.id))
    .filter((part) => !complete || part.kind !== "drive")
    .map((part) => ({ part, why: whyNot(before, part) }));
  const fitting = offers.filter(({ why }) => why === null);
  const others = offers.filter(({ why }) => why !== null);
  return (
    <Select
      aria-label="Next part"
      name="next-part"
      value=""
      className="mt-1"
      onChange={(event) => event.target.value && onAdd(event.target.value)}
    >
      <option value="">
        {parts.length === 0
          ? "Start with a host port ..."
          : complete
            ? "Insert a part before the drive ..."
            : "Add the next part ..."}
      </option>
      {fitting.map(({ part }) => (
        <option key={part.id} value={part.id}>
          {PART_KIND_NAMES[part.kind]}: {part.name}
          {part.tag && ` (${part.tag})`}
        </option>
      ))}
      {others.length > 0 && (
        <optgroup label="cannot follow here">
          {others.map(({ part, why }) => (
            <option key={part.id} value={part.id} disabled>
              {part.name}: {why}
            </option>
          ))}
        </optgroup>
      )}
    </Select>
  );
}

function whyNot(parts: Part[], next: Part): string | null {
  const last = parts.at(-1);
  if (!last) return next.kind === "host-port" ? null : "a rig starts at a host port";
  if (next.kind === "host-port") return "a rig has one host port, at its start";
  if (last.kind === "cable" && next.kind === "cable") return "two cables need a part between them";
  const link = linksOf({ parts: [...parts, next] }).at(-1);
  if (next.kind === "cable") {
    const open = linksOf({ parts: [...parts, next, { ...next, kind: "hub" }] }).at(-1);
    return open?.problem ? "shares no mode with what is before it" : null;
  }
  return link?.problem ? "shares no mode with what is before it" : null;
}
