"use client";

import type { Rig } from "@/core/chain/rig";
import { DoesNotWork } from "./does-not-work";
import type { Of } from "./drill-choice";
import { ImportedLog } from "./imported-log";
import { PastedGrid } from "./pasted-grid";
import type { Taken } from "./taken";
import { TypedFigures } from "./typed-figures";

/** The ways in for results that Nerrit did not measure. */
export function FromElsewhere(props: {
  studyId: string;
  rigs: readonly Rig[];
  /** What is chosen at first. */
  first: Of;
  onTaken: (taken: Taken) => void;
}) {
  return (
    <>
      <TypedFigures {...props} />
      <PastedGrid {...props} />
      <ImportedLog {...props} />
      <DoesNotWork {...props} />
    </>
  );
}
