"use client";

import { DRILLS, drillNamed } from "@/core/drills/catalogue";
import { DrillDirectionSchema } from "@/core/drills/drill";
import { shapeOf, usualDrill } from "@/core/drills/shape";
import type { SaidColumn } from "@/core/elsewhere/column";
import type { GridHead } from "@/core/elsewhere/grid";
import { formatSize, sizeIn } from "@/core/units/size";
import { countIn } from "./requests-choice";
import { Input } from "../controls/form";
import { Select } from "../controls/select";
import { WAYS } from "../measure/form/ways";

const OUT = "(out)";
const CHOICES = [
  ...DRILLS.filter(({ name, recorded }) => !name.endsWith("ladder") && !recorded).flatMap(
    ({ name, title, directions }) =>
      directions.map((way) => ({ value: `${name} ${way}`, text: `${title}, ${WAYS[way]}` })),
  ),
  { value: OUT, text: "leave it out" },
];

/** What a column of a pasted grid is: how its head was understood, to be put right. */
export function ColumnChoice({
  head: { column, head, of },
  said,
  onSay,
}: {
  head: GridHead;
  /** What the tester said of it; undefined: nothing. */
  said: SaidColumn | null | undefined;
  onSay: (said: SaidColumn | null) => void;
}) {
  const now = said === undefined ? of : said;
  const say = (next: Partial<SaidColumn>) =>
    now &&
    onSay({
      drill: now.drill,
      direction: now.direction,
      block: now.block,
      depth: now.depth,
      ...next,
    });
  const usual = now && shapeOf(usualDrill(now.drill, now.direction));
  const parameters = now ? drillNamed(now.drill).parameters : {};
  return (
    <span className="flex flex-col items-end gap-1">
      <Select
        label={`What column ${column}, ${head}, is`}
        name={`grid-column-${column}`}
        className="!w-auto"
        value={now ? `${now.drill} ${now.direction}` : said === null ? OUT : ""}
        options={now || said === null ? CHOICES : [{ value: "", text: "choose" }, ...CHOICES]}
        onChange={(value) => {
          if (value === OUT) return onSay(null);
          const [drill, way] = value.split(" ");
          const direction = DrillDirectionSchema.safeParse(way).data;
          if (drill && direction)
            onSay({ drill, direction, block: now?.block ?? null, depth: now?.depth ?? null });
        }}
      />
      {now && usual && (
        <span className="flex items-center gap-1 font-normal">
          {"block" in parameters && (
            <Typed
              key={`block ${now.block}`}
              label={`Block of column ${column}`}
              value={now.block === null ? "" : formatSize(now.block)}
              usual={formatSize(usual.block)}
              onSay={(text) => say({ block: text === "" ? null : (sizeIn(text) ?? -1) })}
            />
          )}
          {"depth" in parameters && (
            <Typed
              key={`depth ${now.depth}`}
              label={`In flight, of column ${column}`}
              value={now.depth === null ? "" : String(now.depth)}
              usual={String(usual.depth)}
              onSay={(text) => say({ depth: text === "" ? null : countIn(text) })}
            />
          )}
          {"depth" in parameters && "in flight"}
        </span>
      )}
    </span>
  );
}

/** A text that counts once it is left, so that half of a size is not taken for one. */
function Typed({
  label,
  value,
  usual,
  onSay,
}: {
  label: string;
  value: string;
  usual: string;
  onSay: (text: string) => void;
}) {
  return (
    <Input
      aria-label={label}
      className="figure !w-20 !py-0 text-[13px]"
      defaultValue={value}
      placeholder={usual}
      onBlur={(event) => event.target.value.trim() !== value && onSay(event.target.value.trim())}
    />
  );
}
