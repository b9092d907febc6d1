"use client";

import Link from "next/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { letterOf } from "@/core/answer/study";
import { differences } from "@/core/chain/difference";
import type { Part } from "@/core/chain/part";
import type { Rig } from "@/core/chain/rig";
import { Dialog } from "../controls/dialog";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { LinkTable } from "./link-table";
import { RigForm, type TypedRig } from "./rig-form";
import { SwapList } from "./swap-list";

const EMPTY: TypedRig = { id: null, name: "", partIds: [], transport: "", fileSystem: "" };

const typed = (rig: Rig): TypedRig => ({
  id: rig.id,
  name: rig.name,
  partIds: rig.parts.map(({ id }) => id),
  transport: rig.transport ?? "",
  fileSystem: rig.fileSystem,
});

/** The rigs of a study, and what differs between them. */
export function RigsView({
  studyId,
  rigs,
  shelf,
}: {
  studyId: string;
  rigs: Rig[];
  shelf: Part[];
}) {
  const router = useRouter();
  const [editing, setEditing] = useState<TypedRig | null>(null);
  const [first, ...others] = rigs;

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-center gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Rigs</h1>
        <Link href="/shelf" className="underline">
          Parts are entered on the shelf
        </Link>
        <Button main disabled={shelf.length < 2} onClick={() => setEditing(EMPTY)}>
          Add a rig
        </Button>
      </div>
      {shelf.length < 2 && (
        <p className="border border-line bg-sheet p-4">
          A rig is put together from parts.{" "}
          <Link href="/shelf" className="underline">
            Enter them on the shelf
          </Link>{" "}
          first: a host port, the cables, the enclosure, the drive.
        </p>
      )}
      {shelf.length >= 2 && rigs.length === 0 && (
        <p className="border border-line bg-sheet p-4">
          Describe the first rig: the exact chain of parts from the host port to the drive. Then
          duplicate it and change one part.
        </p>
      )}
      <ul className="space-y-3">
        {rigs.map((rig, index) => (
          <li key={rig.id} className="border border-line bg-sheet p-4">
            <div className="mb-2 flex items-baseline gap-3">
              <span className="font-serif text-[22px] italic">{letterOf(index)}</span>
              <h2 className="min-w-0 font-semibold [overflow-wrap:anywhere]">{rig.name}</h2>
              <span className="mr-auto text-secondary">{rig.fileSystem}</span>
              <button type="button" className="underline" onClick={() => setEditing(typed(rig))}>
                Edit
              </button>
              <button
                type="button"
                className="underline"
                onClick={() => setEditing({ ...typed(rig), id: null, name: "" })}
              >
                Duplicate with a change
              </button>
              <button
                type="button"
                className="underline"
                onClick={async () => {
                  await send("DELETE", `/api/rigs/${rig.id}`);
                  router.refresh();
                }}
              >
                Take out
              </button>
              <Link href={`/studies/${studyId}/measure?rig=${rig.id}`} className="underline">
                Measure
              </Link>
            </div>
            <p className="mb-2 text-secondary">{rig.parts.map(({ name }) => name).join(" → ")}</p>
            <LinkTable rig={rig} />
            <SwapList rig={rig} shelf={shelf} />
          </li>
        ))}
      </ul>
      {first && others.length > 0 && (
        <section className="mt-4">
          <h2 className="font-semibold">What differs</h2>
          <ul>
            {others.map((rig, i) => {
              const found = differences(first, rig);
              return (
                <li key={rig.id}>
                  <span className="font-serif italic">A</span> and{" "}
                  <span className="font-serif italic">{letterOf(i + 1)}</span>:{" "}
                  {found.length === 0
                    ? "nothing; they are the same rig."
                    : `${found.length} ${found.length === 1 ? "change" : "changes"}: ${found.map(({ what }) => what).join("; ")}.`}
                  {found.length > 1 && (
                    <b> More than one change: their comparison proves nothing about either.</b>
                  )}
                </li>
              );
            })}
          </ul>
        </section>
      )}
      <Dialog
        title={editing?.id ? "Change a rig" : "A rig, from host to drive"}
        open={editing !== null}
        onOpenChange={(open) => !open && setEditing(null)}
      >
        {editing && (
          <RigForm
            studyId={studyId}
            shelf={shelf}
            initial={editing}
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
