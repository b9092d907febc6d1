"use client";

import { Link } from "../controls/link";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import type { UsualTest } from "@/core/plan/usual-tests";
import { DOING, type Direction } from "@/core/units/rate";
import { Dialog } from "../controls/dialog";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed, sayRemoved, saySaved } from "../controls/toast";
import { Toggle } from "../controls/toggle";
import { DIRECTIONS } from "../controls/select";
import { Legend } from "../narrows/legend";
import { useUnit } from "../frame/unit";
import { narrowsRows } from "../narrows/rows";
import { Saveable } from "../out/saveable";
import { NarrowsDrawing } from "../narrows/narrows-drawing";
import { RigCard, type ShownRig } from "./rig-card";
import { PathForm } from "./path/path-form";
import { RigForm } from "./rig-form";
import { PluggedList } from "../plugged/plugged-list";
import { useBenchDrives } from "../hosts/use-host-drives";
import { SystemDialog, type Asking } from "../system/system-dialog";
import { WhatDiffers } from "./what-differs";

/** The rigs of a study as channels, one by one in full, and what differs between them. */
export function RigsView({
  studyId,
  shown,
  direction,
  begun,
  test,
}: {
  studyId: string;
  shown: ShownRig[];
  direction: Direction;
  /** A rig that is to be put together: the form opens with it. */
  begun: Rig | null;
  /** The usual test that the study begins with: the path opens for it. */
  test: UsualTest | null;
}) {
  const router = useRouter();
  const unit = useUnit();
  const [editing, setEditing] = useState(begun);
  /** Whether new rigs are being put together. */
  const [adding, setAdding] = useState(test !== null);
  const [asking, setAsking] = useState<Asking | null>(null);
  const drives = useBenchDrives();
  const rigs = shown.map(({ rig }) => rig);
  const planned = shown.map(({ rig, machine }, i) => ({
    letter: letterOf(i),
    rig,
    machine,
    observation: null,
    finding: null,
    standing: null,
  }));

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-center gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Rigs</h1>
        <Link href="/shelf" className="underline">
          Manage parts
        </Link>
        <Button onClick={() => setAsking({ rig: null })}>Build from a connected drive</Button>
        <Button main onClick={() => setAdding(true)}>
          Add rigs
        </Button>
      </div>
      {rigs.length === 0 && (
        <p className="mb-3 border border-line bg-sheet p-4">
          A rig is the exact chain of parts from the host port to the drive. Take a drive that is
          plugged in, below, or{" "}
          <button type="button" className="underline" onClick={() => setAdding(true)}>
            put one together
          </button>{" "}
          from parts. Several cables or enclosures in one place make a rig each.
        </p>
      )}
      <PluggedList
        drives={drives}
        rigs={rigs}
        studyId={studyId}
        open={rigs.length === 0}
        onMake={(path) => setAsking({ rig: null, path })}
      />
      <WhatDiffers rigs={rigs} />
      {rigs.length > 0 && (
        <section className="mb-3 border border-line bg-sheet p-4">
          <div className="mb-1 flex flex-wrap items-baseline gap-3">
            <h2 className="mr-auto font-semibold">
              What each can carry {direction === "read" ? "reading" : "writing"}
            </h2>
            <Toggle
              label="Direction"
              value={direction}
              options={DIRECTIONS}
              onChange={(next) => router.replace(`?direction=${next}`, { scroll: false })}
            />
          </div>
          <Saveable
            caption={{
              title: `What each rig can carry ${DOING[direction]}`,
              note: `By the ledger of its links and what its parts say of themselves, ${unit}; nothing here is measured.`,
            }}
            rows={narrowsRows(planned, direction, unit)}
            foot={
              <Legend
                predicted
                flow={false}
                host={planned.some(({ machine }) => machine)}
                direction={direction}
                held={rigs.some(({ held }) => held.length > 0)}
              />
            }
          >
            <NarrowsDrawing rigs={planned} direction={direction} unit={unit} planned />
          </Saveable>
        </section>
      )}
      <ul className="space-y-3">
        {shown.map((one, index) => (
          <RigCard
            key={one.rig.id}
            shown={one}
            index={index}
            studyId={studyId}
            onEdit={() => setEditing(one.rig)}
            onDuplicate={() => setEditing({ ...one.rig, id: "", name: "", photos: [] })}
            onProbe={() => setAsking({ rig: one.rig })}
            onRemove={async () => {
              const url = `/api/rigs/${one.rig.id}`;
              const sent = await send<object>("DELETE", url);
              router.refresh();
              if (!sent.ok) return sayFailed(sent.error.message);
              sayRemoved(`${one.rig.name} is out of the study; its runs are kept.`, async () => {
                const back = await send("PATCH", url, sent.data);
                router.refresh();
                return back.ok ? null : back.error.message;
              });
            }}
          />
        ))}
      </ul>
      <Dialog
        wide
        title={editing?.id ? "Change a rig" : "A rig, from host to drive"}
        open={editing !== null}
        onOpenChange={(open) => !open && setEditing(null)}
      >
        {editing && (
          <RigForm
            studyId={studyId}
            initial={editing}
            stored={shown.find(({ rig }) => rig.id === editing.id)?.rig}
            onSaved={() => {
              setEditing(null);
              router.refresh();
            }}
          />
        )}
      </Dialog>
      <Dialog wide title="Rigs, from host to drive" open={adding} onOpenChange={setAdding}>
        <PathForm
          studyId={studyId}
          rigs={rigs}
          test={test}
          onSaved={() => {
            setAdding(false);
            if (test) router.push(`/studies/${studyId}/measure?test=${test.id}`);
            else router.refresh();
          }}
          onDetails={(rig) => {
            setAdding(false);
            setEditing(rig);
          }}
        />
      </Dialog>
      <SystemDialog
        asking={asking}
        studyId={studyId}
        drives={drives}
        onMade={(_, id, path) => {
          setAsking(null);
          saySaved("The rig is made; its parts are on the shelf. Now measure it.");
          const query = new URLSearchParams(path ? { rig: id, target: path } : { rig: id });
          router.push(`/studies/${studyId}/measure?${query}`);
        }}
        onClose={() => setAsking(null)}
        onRig={(rig) => {
          setAsking(null);
          setEditing(rig);
        }}
      />
    </>
  );
}
