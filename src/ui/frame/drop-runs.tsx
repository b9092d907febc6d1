"use client";

import { usePathname, useRouter } from "next/navigation";
import { useEffect } from "react";
import { handOn } from "../elsewhere/dropped-runs";
import { sayFailed } from "../controls/toast";

/** A run file begins with its format; so much of a file is looked at. */
const HEAD_BYTES = 400;
const RUNS = /"format"\s*:\s*"nerrit-(runs|lines)"/;

const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;

/** Takes a run file that is dropped on any page of a study to where runs are imported. */
export function DropRuns() {
  const router = useRouter();
  const study = /^\/studies\/([^/]+)/.exec(usePathname())?.[1];
  useEffect(() => {
    const over = (event: DragEvent) => {
      if (holdsFiles(event)) event.preventDefault();
    };
    const drop = async (event: DragEvent) => {
      if (!holdsFiles(event) || event.defaultPrevented) return;
      event.preventDefault();
      const file = event.dataTransfer!.files[0];
      if (!file) return;
      const head = await file.slice(0, HEAD_BYTES).text();
      if (!RUNS.test(head))
        return sayFailed(
          `${file.name} is no run file of Nerrit. Import a log, on Measure, reads logs of other programs.`,
        );
      if (!study)
        return sayFailed("Open the study that the runs belong to, and drop the file there.");
      handOn(file);
      router.push(`/studies/${study}/measure`);
    };
    const dropped = (event: DragEvent) => void drop(event);
    window.addEventListener("dragover", over);
    window.addEventListener("drop", dropped);
    return () => {
      window.removeEventListener("dragover", over);
      window.removeEventListener("drop", dropped);
    };
  }, [router, study]);
  return null;
}
