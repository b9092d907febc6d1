"use client";

import { SIDES, type Connector, type PartKind } from "@/core/chain/part";
import { Shape, SHAPES } from "@/core/chain/shape";
import { Button } from "../controls/form";
import { Select } from "../controls/select";
import { ModesPicker } from "./modes-picker";

const SPEEDS = {
  up: "Host-side speeds",
  down: "Drive-side speeds",
  through: "Speeds it carries",
} as const;

/** The connectors of a part, side by side of it: their shapes, and the modes each can run. */
export function ConnectorsEditor({
  kind,
  value,
  onChange,
  errors,
}: {
  kind: PartKind;
  value: Connector[];
  onChange: (connectors: Connector[]) => void;
  /** What is wrong, by "connectors.0" and so on; "connectors" for all of them. */
  errors: Record<string, string>;
}) {
  const change = (i: number, part: Partial<Connector>) =>
    onChange(value.with(i, { ...value[i]!, ...part }));
  return (
    <>
      {SIDES[kind].map((side) => {
        const own = value.flatMap((connector, i) => (connector.side === side ? [i] : []));
        return (
          <div key={side} className="space-y-2">
            {own.map((i, nth) => {
              const { modes, shape, farShape } = value[i]!;
              const legend = `${SPEEDS[side]}${own.length > 1 ? `, connector ${nth + 1}` : ""}`;
              return (
                <ModesPicker
                  key={i}
                  legend={legend}
                  value={modes}
                  onChange={(next) => change(i, { modes: next })}
                  error={errors[`connectors.${i}`] ?? (nth === 0 ? errors.connectors : undefined)}
                >
                  <ShapeSelect
                    label={side === "through" ? "Plug towards the host" : "Shape"}
                    value={shape}
                    onChange={(next) => change(i, { shape: next })}
                  />
                  {side === "through" && (
                    <ShapeSelect
                      label="Plug towards the drive"
                      value={farShape}
                      onChange={(next) => change(i, { farShape: next })}
                    />
                  )}
                  {own.length > 1 && (
                    <Button
                      className="!py-0 text-sm"
                      onClick={() => onChange(value.toSpliced(i, 1))}
                    >
                      Remove this connector
                    </Button>
                  )}
                </ModesPicker>
              );
            })}
            {side !== "through" && (
              <button
                type="button"
                className="text-sm underline"
                onClick={() => onChange([...value, { side, modes: [] }])}
              >
                {own.length === 0 ? "Add a" : "Add another"}{" "}
                {side === "up" ? "host-side" : "drive-side"} connector
              </button>
            )}
          </div>
        );
      })}
    </>
  );
}

const SHAPE_OPTIONS = [
  { value: "" as const, text: "not said" },
  ...Shape.options.map((shape) => ({ value: shape, text: SHAPES[shape].name })),
];

function ShapeSelect({
  label,
  value,
  onChange,
}: {
  label: string;
  value: Shape | undefined;
  onChange: (shape: Shape | undefined) => void;
}) {
  return (
    <span className="flex items-center gap-1 text-sm">
      <span className="text-[13px] whitespace-nowrap text-secondary">{label}</span>
      <Select
        label={label}
        value={value ?? ""}
        className="!w-auto !py-0.5"
        options={SHAPE_OPTIONS}
        onChange={(shape) => onChange(shape || undefined)}
      />
    </span>
  );
}
