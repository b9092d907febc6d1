import type { ReactNode } from "react";
import { foundWords, machineWords, placeWords, stateWords } from "@/core/host/host-words";
import type { ShownHost } from "@/core/host/known-host";
import type { SeenDrive } from "@/core/system/drive";
import { formatMoment } from "@/core/units/day";
import { Button, Trouble } from "../controls/form";
import { DriveList } from "../plugged/drive-list";
import type { HostDrives } from "./use-host-drives";

/** A host: whether it can be measured on, what it is, what is missing there, and its drives. */
export function HostCard({
  host: known,
  drives,
  network,
  isLooking,
  onLook,
  onRemove,
  onMeasure,
}: {
  host: ShownHost;
  /** Null of a host that cannot be measured on. */
  drives: HostDrives | null;
  /** What the network to it carries, and what it can drive; null of a host that cannot be measured on. */
  network: ReactNode;
  isLooking: boolean;
  onLook: () => void;
  onRemove: () => void;
  onMeasure: (path: string) => void;
}) {
  // A host that told its drives since is reached.
  const host = drives?.drives ? { ...known, trouble: null } : known;
  const { name, facts, trouble, lacks, lookedAt } = host;
  return (
    <Card
      name={name}
      state={isLooking ? "Checking ..." : stateWords(host)}
      buttons={
        <>
          <Button disabled={isLooking} onClick={onLook}>
            Check again
          </Button>
          <Button onClick={onRemove}>Remove</Button>
        </>
      }
    >
      {trouble && <Trouble>{trouble.reason}</Trouble>}
      {facts && (
        <p className="text-sm text-secondary [overflow-wrap:anywhere]">
          {machineWords(facts)} · {foundWords(facts)} · checked {formatMoment(lookedAt)}
        </p>
      )}
      {lacks.length > 0 && (
        <ul className="mt-1 list-disc pl-5">
          {lacks.map(({ what, without }) => (
            <li key={what}>
              {what} {without}
            </li>
          ))}
        </ul>
      )}
      {!trouble && placeWords(host) && <p className="mt-1">{placeWords(host)}</p>}
      {drives && !trouble && <Drives of={drives} onMeasure={onMeasure} />}
      {!trouble && network}
    </Card>
  );
}

/** This machine, with its drives. */
export function OwnCard({
  name,
  drives,
  check,
  onMeasure,
}: {
  name: string;
  drives: readonly SeenDrive[] | null;
  /** What it can drive. */
  check: ReactNode;
  onMeasure: (path: string) => void;
}) {
  return (
    <Card name={name} state="This machine">
      <Drives of={{ drives: drives && [...drives], trouble: null }} onMeasure={onMeasure} />
      {check}
    </Card>
  );
}

function Card({
  name,
  state,
  buttons,
  children,
}: {
  name: string;
  state: string;
  buttons?: ReactNode;
  children: ReactNode;
}) {
  return (
    <section className="border border-line bg-sheet p-4" data-host={name}>
      <div className="mb-1 flex flex-wrap items-baseline gap-x-4 gap-y-2">
        <h2 className="font-serif text-xl [overflow-wrap:anywhere]">{name}</h2>
        <span className="mr-auto font-semibold" role="status">
          {state}
        </span>
        {buttons}
      </div>
      {children}
    </section>
  );
}

function Drives({
  of: { drives, trouble },
  onMeasure,
}: {
  of: HostDrives;
  onMeasure: (path: string) => void;
}) {
  if (trouble) return <Trouble>{trouble}</Trouble>;
  if (!drives) return <p className="mt-2 text-secondary">Detecting drives ...</p>;
  return (
    <div className="mt-2 border-t border-line">
      {/* The card names the host. */}
      <DriveList drives={drives.map(({ host: _, ...drive }) => drive)} onMeasure={onMeasure} />
    </div>
  );
}
