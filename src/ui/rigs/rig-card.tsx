import type { MachineShown } from "@/core/machine/machine-stage";
import { Link } from "../controls/link";
import { letterOf } from "@/core/answer/lettered-rig";
import { fileSystemOf, type Rig } from "@/core/chain/rig";
import { layoutOf } from "@/core/chain/several";
import type { Swap } from "@/core/locate/steps/swap";
import { useRates } from "../frame/unit";
import { PhotoStrip } from "../photos/photo-strip";
import { LinkTable } from "./link-table";
import { PredictionTable } from "./prediction-table";
import { SwapList } from "./swap-list";

/** A rig of a study, and what changing one of its parts would bring, each way. */
export interface ShownRig {
  rig: Rig;
  swaps: { read: Swap[]; write: Swap[] };
  /** What its host was shown to carry by large requests, the way that is looked at. */
  machine: MachineShown | null;
}

/** One rig: its parts, its links, what it should give and what would widen it. */
export function RigCard({
  shown: { rig, swaps },
  index,
  studyId,
  onEdit,
  onDuplicate,
  onProbe,
  onRemove,
}: {
  shown: ShownRig;
  index: number;
  studyId: string;
  onEdit: () => void;
  onDuplicate: () => void;
  onProbe: () => void;
  onRemove: () => void;
}) {
  const action = (label: string, run: () => void) => (
    <button type="button" className="underline" onClick={run}>
      {label}
    </button>
  );
  const served = rig.farHost && `served by ${rig.farHost}`;
  const around = [rig.host, fileSystemOf(rig), served, layoutOf(rig)].filter(Boolean).join(" · ");
  const { unit, rate } = useRates();
  return (
    <li className="border border-line bg-sheet p-4" id={`rig-${letterOf(index)}`}>
      <div className="mb-2 flex flex-wrap items-baseline gap-x-3">
        <span className="font-serif text-[22px] italic">{letterOf(index)}</span>
        <h2 className="min-w-0 font-semibold [overflow-wrap:anywhere]">{rig.name}</h2>
        <span className="mr-auto text-secondary">{around}</span>
        {action("Edit", onEdit)}
        {action("Duplicate with a change", onDuplicate)}
        {action("Compare with the system", onProbe)}
        {action("Remove", onRemove)}
        <Link href={`/studies/${studyId}/compare?rigs=${rig.id}`} className="underline">
          Results
        </Link>
        <Link href={`/studies/${studyId}/measure?rig=${rig.id}`} className="underline">
          Measure
        </Link>
      </div>
      <p className="mb-2 text-secondary">
        {rig.other.length > 0 && (
          <>
            copy:{" "}
            {rig.other
              .toReversed()
              .map(({ name }) => name)
              .join(" → ")}{" "}
            ⇄{" "}
          </>
        )}
        {rig.parts.map(({ name }) => name).join(" → ")}
        {rig.beside.length > 0 && ` + ${rig.beside.map(({ name }) => name).join(" + ")}`}
      </p>
      <PhotoStrip photos={[...rig.photos, ...rig.parts.flatMap((part) => part.photos)]} />
      <LinkTable rig={rig} />
      {rig.held.length > 0 && (
        <p className="mt-1 text-sm">
          Used by other devices:{" "}
          {rig.held
            .map(
              ({ what, read, write }) =>
                `${what} (${rate(read)} / ${rate(write)} ${unit} read / write)`,
            )
            .join(", ")}
          .
        </p>
      )}
      <PredictionTable rig={rig} />
      <SwapList swaps={swaps.read} doing="reading" />
      <SwapList swaps={swaps.write} doing="writing" />
    </li>
  );
}
