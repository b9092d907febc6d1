"use client";

import { useState } from "react";
import { BALLAST_FOLDER, fillOf } from "@/core/ballast/ballast";
import { changeFor } from "@/core/ballast/change";
import type { BallastPlace, BallastState, ShownBallast } from "@/core/ballast/shown";
import { ballastWords } from "@/core/ballast/ballast-words";
import { counted } from "@/core/units/counted";
import { formatPercent } from "@/core/units/number";
import { shareFrom } from "@/core/units/share";
import { formatSize } from "@/core/units/size";
import { Consent } from "../controls/consent";
import { Fold } from "../controls/fold";
import { Button, Field, Input, Trouble } from "../controls/form";
import { Progress } from "../controls/progress";
import { useBallast } from "./use-ballast";

/** How full a drive is, and what keeps it so: fills it to a level, and removes the ballast again. */
export function BallastField({ target, reserve }: { target: string; reserve: number | null }) {
  const { state, fill, remove, stop } = useBallast(target, reserve);
  const [typed, setTyped] = useState("");
  // The line keeps its place while a directory is typed: nothing below is to move under the pointer.
  const { place, all, trouble: last } = state ?? NOTHING_KNOWN;
  const here = all.find((one) => one.target === place?.target);
  const elsewhere = all.filter((one) => one !== here);
  const others =
    elsewhere.length > 0 ? `ballast on ${counted(elsewhere.length, "other drive")}` : null;
  const trouble = (fill.error ?? remove.error ?? stop.error)?.message ?? last;
  const beside = fill.error?.cause === "own-database";
  const isBusy = fill.isPending || remove.isPending;
  return (
    <Fold
      summary={
        <span className="text-secondary">
          {[
            here?.doing ? doingWords(here.doing) : standsWords(place),
            others,
            last && "the last filling failed",
          ]
            .filter(Boolean)
            .join("; ")}
        </span>
      }
    >
      <div className="mt-2 space-y-2 border-l border-line pl-3">
        {!place && <p>Files of Nerrit’s own can fill a drive to a level before it is measured.</p>}
        {here?.doing && <Doing of={here} onStop={() => stop.mutate(here.target)} />}
        {place && !here?.doing && (
          <div className="flex flex-wrap items-end gap-3">
            <Field
              label="Fill the drive to"
              hint={`with files in ${place.target}/${BALLAST_FOLDER}, which stay until you remove them`}
            >
              <Input
                name="ballast-level"
                placeholder="85 %"
                value={typed}
                onChange={(event) => setTyped(event.target.value)}
              />
            </Field>
            <Fill
              place={place}
              typed={typed}
              busy={isBusy}
              onFill={(level) => fill.mutate({ level })}
            />
            {place.held && (
              <Button disabled={isBusy} onClick={() => remove.mutate(place.target)}>
                Remove the ballast
              </Button>
            )}
          </div>
        )}
        {trouble && !beside && <Trouble>{trouble}</Trouble>}
        <Consent
          title="Fill Nerrit’s own drive?"
          act="Fill it all the same"
          open={beside}
          onAnswer={(yes) => {
            fill.reset();
            if (yes) fill.mutate({ level: fill.variables!.level, besideOwnData: true });
          }}
        >
          Nerrit’s own data lies on this drive too. The ballast leaves the reserve free for it.
        </Consent>
        {elsewhere.map((one) => (
          <div key={one.target} className="flex flex-wrap items-baseline gap-3">
            <span className="[overflow-wrap:anywhere]">
              {one.target}: {ballastWords(one, one.room)}
            </span>
            <Button disabled={isBusy} onClick={() => remove.mutate(one.target)}>
              Remove this ballast
            </Button>
          </div>
        ))}
      </div>
    </Fold>
  );
}

const NOTHING_KNOWN: BallastState = { place: null, trouble: null, all: [] };

const doingWords = ({ bytes, total }: NonNullable<ShownBallast["doing"]>): string =>
  `${formatSize(bytes, 1000)} of ${formatSize(total, 1000)} of ballast written`;

/** "Fill level: the file system is 41 % full, without ballast", in a line. */
function standsWords(place: BallastPlace | null): string {
  if (!place) return "Fill level: known once a directory on the drive is named";
  const { room, held } = place;
  return held
    ? `Fill level: ${ballastWords(held, room)}`
    : `Fill level: the file system is ${formatPercent(fillOf(room))} full, without ballast`;
}

/** The button that writes, with what it will write. */
function Fill({
  place,
  typed,
  busy,
  onFill,
}: {
  place: BallastPlace;
  typed: string;
  busy: boolean;
  onFill: (level: number) => void;
}) {
  const level = levelFrom(typed);
  if (level === null)
    return (
      <Button disabled>
        {typed.trim() === "" ? "Write ballast" : "Type a share, for example 85 %"}
      </Button>
    );
  const change = changeFor(level, place.room, place.held?.bytes ?? 0, place.reserve);
  if (typeof change === "string") return <Trouble>{change}</Trouble>;
  if (change.write === 0 && change.remove === 0)
    return <Button disabled>{`Filled to ${formatPercent(level)} already`}</Button>;
  const words =
    change.write > 0
      ? `Write ${formatSize(change.write, 1000)} of ballast`
      : `Remove ${formatSize(change.remove, 1000)} of ballast`;
  return (
    <Button disabled={busy} onClick={() => onFill(level)}>
      {words}
    </Button>
  );
}

/** A share between nothing and all; a bare number above 1 is taken for a percentage. */
function levelFrom(typed: string): number | null {
  const share = shareFrom(typed);
  const level = share >= 1 ? share / 100 : share;
  return level > 0 && level < 1 ? level : null;
}

function Doing({ of: { doing, target }, onStop }: { of: ShownBallast; onStop: () => void }) {
  return (
    <div className="max-w-xl space-y-1" aria-live="polite">
      <p>
        {doingWords(doing!)} to {target}
      </p>
      <Progress label="Ballast" value={doing!.bytes} most={doing!.total} />
      <Button onClick={onStop}>Stop</Button>
    </div>
  );
}
