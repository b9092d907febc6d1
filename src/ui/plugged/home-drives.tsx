"use client";

import { useState } from "react";
import { useBenchDrives } from "../hosts/use-host-drives";
import { DriveList } from "./drive-list";
import { MeasureConnected } from "./measure-connected";

/** The drives that are connected now, each to be measured: a study, a rig and its parts come with the first press. */
export function HomeDrives() {
  const drives = useBenchDrives();
  const [path, setPath] = useState<string | null>(null);
  return (
    <section className="border border-line bg-sheet p-4">
      <h2 className="font-serif text-xl">Connected drives</h2>
      {drives && <DriveList drives={drives} onMeasure={setPath} />}
      <MeasureConnected path={path} drives={drives} onClose={() => setPath(null)} />
    </section>
  );
}
