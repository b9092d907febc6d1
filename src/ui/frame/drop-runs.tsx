"use client";

import { usePathname, useRouter } from "next/navigation";
import { useEffect } from "react";
import { handOn, isWaiting } from "../elsewhere/dropped-runs";
import { sayFailed, saySaved } from "../controls/toast";

/** A run file begins with its format; so much of a file is looked at. */
const HEAD_BYTES = 400;
const RUNS = /"format"\s*:\s*"nerrit-(runs|lines)"/;

const holdsFiles = (event: DragEvent) => event.dataTransfer?.types.includes("Files") ?? false;

/**
 * Takes a run file that is dropped on any page to where runs are imported. One that is dropped outside a study
 * waits until a study is opened.
 */
export function DropRuns() {
  const router = useRouter();
  const study = /^\/studies\/([^/]+)/.exec(usePathname())?.[1];
  useEffect(() => {
    if (study && isWaiting()) router.push(`/studies/${study}/measure`);
  }, [router, study]);
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
      handOn(file);
      if (!study)
        return saySaved(`${file.name} waits here. Open the study that its runs belong to.`);
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
