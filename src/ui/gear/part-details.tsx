import type { ComponentProps } from "react";
import type { PartKind } from "@/core/chain/part";
import type { FieldPath } from "react-hook-form";
import { Fold } from "../controls/fold";
import { Field, Input } from "../controls/form";
import type { TypedPart } from "./part-draft";

/** A field of plain text: which, what it is called, and how it is written. */
interface Detail {
  name: FieldPath<TypedPart>;
  label: string;
  hint?: string;
  figure?: boolean;
  /** Of which kinds alone. */
  of?: readonly PartKind[];
}

const DETAILS: readonly Detail[] = [
  { name: "maker", label: "Maker" },
  { name: "model", label: "Model" },
  { name: "serial", label: "Serial number", hint: "by which the system’s own report is matched" },
  { name: "chip", label: "Chip inside", hint: "bridge or controller, where known" },
  { name: "firmware", label: "Firmware" },
  { name: "price", label: "Price", figure: true },
  { name: "currency", label: "Currency", hint: "three letters" },
  { name: "ownRead", label: "Rated read speed", hint: "MB/s, where known", figure: true },
  { name: "ownWrite", label: "Rated write speed", hint: "MB/s, where known", figure: true },
  {
    name: "timeRead",
    label: "Read time per request",
    hint: "µs a small request",
    figure: true,
    of: ["drive"],
  },
  {
    name: "timeWrite",
    label: "Write time per request",
    hint: "µs a small request",
    figure: true,
    of: ["drive"],
  },
  {
    name: "cache",
    label: "Write cache",
    hint: "the fast part that takes writes first, for example 24GiB",
    of: ["drive"],
  },
  {
    name: "endurance",
    label: "Rated endurance",
    hint: "bytes that may be written, for example 600TB",
    of: ["drive"],
  },
  { name: "capacity", label: "Capacity", of: ["enclosure", "network-box"] },
  { name: "notes", label: "Notes" },
];

/** Everything of a part that is rarely needed: maker, serial number, price, what is known of its inside. */
export function PartDetails({
  kind,
  bind,
  error,
}: {
  kind: PartKind;
  bind: (name: FieldPath<TypedPart>) => ComponentProps<"input">;
  error: (name: string) => string | undefined;
}) {
  const shown = DETAILS.filter(({ of }) => of === undefined || of.includes(kind));
  const odd = shown.some(({ name }) => error(name));
  return (
    <Fold
      key={String(odd)}
      open={odd}
      className="text-sm"
      summary="Maker, serial number, price and more"
    >
      <div className="mt-2 grid gap-3 sm:grid-cols-3">
        {shown.map(({ name, label, hint, figure }) => (
          <Field key={name} label={label} hint={hint} error={error(name)}>
            <Input inputMode={figure ? "decimal" : undefined} {...bind(name)} />
          </Field>
        ))}
      </div>
    </Fold>
  );
}
