"use client";

import { DRILLS } from "@/core/drills/catalogue";
import type { OwnDrill } from "@/core/drills/drill";
import { Select } from "../../controls/select";

/** Every drill, the tester's own after those that come with the program. */
export function DrillPicker({
  value,
  own,
  onChange,
}: {
  /** The name of a drill, or the id of one of the tester's own. */
  value: string;
  own: readonly OwnDrill[];
  onChange: (value: string) => void;
}) {
  return (
    <Select
      name="drill"
      value={value}
      options={[
        ...DRILLS.map(({ name, title, what }) => ({ value: name, text: `${title}: ${what}` })),
        ...own.map(({ id, drill }) => ({ value: id, text: `${drill.title}: your own` })),
      ]}
      onChange={(next) => next && onChange(next)}
    />
  );
}
