"use client";

import { useEffect, useState } from "react";
import { Course, type CourseStage } from "./course";

/** How each study's stages stood when they were last seen: what a page shows until it is told anew. */
const lately = new Map<string, CourseStage[]>();

/** The course of a study whose states come once the page itself is there. */
export function CourseLater({
  studyId,
  stages,
  current,
}: {
  studyId: string;
  /** As far as they are known at once. */
  stages: CourseStage[];
  current: string;
}) {
  const [whole, setWhole] = useState<CourseStage[] | null>(() => lately.get(studyId) ?? null);
  useEffect(() => {
    const leaving = new AbortController();
    fetch(`/api/studies/${studyId}/course`, { signal: leaving.signal })
      .then(async (response) => {
        if (!response.ok) return;
        const stages = (await response.json()) as CourseStage[];
        lately.set(studyId, stages);
        setWhole(stages);
      })
      // Without it the names of the stages stand there, which is what leads on.
      .catch(() => undefined);
    return () => leaving.abort();
    // Asked again when the page comes anew: runs may have been left out.
  }, [studyId, stages]);
  return <Course stages={whole ?? stages} current={current} />;
}
