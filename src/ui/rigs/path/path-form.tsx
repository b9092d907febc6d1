"use client";

import { Fragment, useState } from "react";
import { combine, countCombined, MOST_COMBINED } from "@/core/chain/combine";
import type { Part, PartKind } from "@/core/chain/part";
import { BARE_RIG, type Rig } from "@/core/chain/rig";
import type { TestPlace, UsualTest } from "@/core/plan/usual-tests";
import { counted } from "@/core/units/counted";
import { Fold } from "../../controls/fold";
import { Button, Field, Form, Input, Trouble } from "../../controls/form";
import { HostInput } from "../../hosts/host-input";
import { send } from "../../controls/send";
import { saySaved } from "../../controls/toast";
import { draftOf } from "../rig-draft";
import { LinkTable } from "../link-table";
import { InsertPlace, PathPlace, type Place } from "./path-place";
import { RigsOfPath, whyNotAdded } from "./rigs-of-path";

/** The path of most rigs; a place that stays empty is left out. */
const USUAL: readonly TestPlace[] = (["host-port", "cable", "enclosure", "drive"] as const).map(
  (kind) => ({ kind, what: "" }),
);

/**
 * Puts rigs together as a path from host to drive: each place is filled from the shelf, or with a new part on
 * the spot. Several parts in one place make a rig each, so that two cables and two enclosures are four rigs.
 */
export function PathForm({
  studyId,
  rigs,
  test,
  onSaved,
  onDetails,
}: {
  studyId: string;
  /** Those that the study has. */
  rigs: readonly Rig[];
  /** The usual test that they are for; null for none. */
  test: UsualTest | null;
  onSaved: () => void;
  /** Goes on with one rig in the form that knows everything of it. */
  onDetails: (rig: Rig) => void;
}) {
  const [path, setPath] = useState<Place[]>(() =>
    (test?.path ?? USUAL).map(({ kind, what }, key) => ({ key, kind, what, parts: [] })),
  );
  const [name, setName] = useState("");
  const [host, setHost] = useState("");
  const [fileSystem, setFileSystem] = useState("");
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const all = combine(path).map(({ name: plain, parts }, i): Rig => ({
    ...BARE_RIG,
    id: `made-${i}`,
    name: plain,
    parts,
    host,
    fileSystem,
  }));
  const only = all.length === 1 ? { ...all[0]!, name: name || all[0]!.name } : null;
  const isWhole = path.some(({ kind, parts }) => kind === "drive" && parts.length > 0);
  const made = (only ? [only] : all).map((rig) => ({ rig, why: whyNotAdded(rig, rigs) }));
  const good = made.filter(({ why }) => why === null);
  const tooMany = countCombined(path) > MOST_COMBINED;
  const firsts = (places: readonly Place[]): Part[] =>
    places.flatMap(({ parts }) => parts.slice(0, 1));

  // A part that was entered on the spot arrives later: what was done meanwhile stays.
  const change = (key: number, partsOf: (parts: Part[]) => Part[]) => {
    setTrouble(null);
    setPath((was) =>
      was.map((place) => (place.key === key ? { ...place, parts: partsOf(place.parts) } : place)),
    );
  };
  const insert = (at: number, kind: PartKind) => {
    const key = Math.max(...path.map((place) => place.key)) + 1;
    setPath(path.toSpliced(at, 0, { key, kind, what: "", parts: [] }));
  };

  async function save() {
    if (good.length === 0) return;
    setBusy(true);
    const sent = await send("POST", `/api/studies/${studyId}/rigs/several`, {
      rigs: good.map(({ rig }) => draftOf(rig)),
    });
    setBusy(false);
    if (!sent.ok) return setTrouble(sent.error.message);
    saySaved(`${counted(good.length, "rig")} added to this study.`);
    onSaved();
  }

  return (
    <Form onSend={save}>
      {test && (
        <p>
          {test.question} <span className="text-secondary">At the end read: {test.read}</span>
        </p>
      )}
      <div className="flex flex-col gap-2 md:flex-row md:items-stretch">
        {path.map((place, at) => (
          <Fragment key={place.key}>
            {at > 0 && <InsertPlace onInsert={(kind) => insert(at, kind)} />}
            <div className="min-w-0 md:flex-1">
              <PathPlace
                place={place}
                before={firsts(path.slice(0, at))}
                after={firsts(path.slice(at + 1))}
                onAdd={(part) => change(place.key, (parts) => [...parts, part])}
                onTake={(id) => change(place.key, (parts) => parts.filter((one) => one.id !== id))}
                onRemove={
                  place.kind === "host-port" || place.kind === "drive"
                    ? null
                    : () => setPath(path.filter(({ key }) => key !== place.key))
                }
              />
            </div>
          </Fragment>
        ))}
      </div>
      <p className="text-[13px] text-secondary">
        A place that stays empty is left out. Several parts in one place make a rig each: two cables
        and two enclosures make four rigs.
      </p>
      {tooMany && (
        <Trouble>
          This path makes {countCombined(path)} rigs. Add at most {MOST_COMBINED} at once.
        </Trouble>
      )}
      {isWhole ? (
        <RigsOfPath made={made} from={rigs.length} />
      ) : (
        all[0] && all[0].parts.length > 1 && <LinkTable rig={all[0]} />
      )}
      <Fold className="text-sm" summary="Name, host and file system">
        <div className="mt-2 grid gap-3 sm:grid-cols-3">
          {only && (
            <Field label="Name" hint="left empty, the parts name it">
              <Input name="rig-name" value={name} onChange={(e) => setName(e.target.value)} />
            </Field>
          )}
          <Field label="Host" hint="computer, system">
            <HostInput name="host" value={host} onChange={(e) => setHost(e.target.value)} />
          </Field>
          <Field label="File system">
            <Input
              name="fileSystem"
              placeholder="ext4, exFAT ..."
              value={fileSystem}
              onChange={(e) => setFileSystem(e.target.value)}
            />
          </Field>
        </div>
      </Fold>
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex flex-wrap items-center justify-end gap-3">
        {only && (
          <button
            type="button"
            className="text-sm underline"
            onClick={() => onDetails({ ...only, id: "", name })}
          >
            Several drives, a copy, other devices on a link
          </button>
        )}
        <Button main type="submit" disabled={busy || !isWhole || good.length === 0}>
          {good.length > 1 ? `Add ${good.length} rigs` : "Add the rig"}
        </Button>
      </div>
    </Form>
  );
}
