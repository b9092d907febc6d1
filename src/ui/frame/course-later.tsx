"use client";

import { useQuery } from "@tanstack/react-query";
import { useEffect } from "react";
import { send } from "../controls/send";
import { Course, type CourseStage } from "./course";

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
  const { data, refetch } = useQuery({
    queryKey: ["course", studyId],
    // Asked when the page comes anew: runs may have been left out.
    enabled: false,
    queryFn: async ({ signal }) => {
      const sent = await send<CourseStage[]>("GET", `/api/studies/${studyId}/course`, undefined, {
        signal,
      });
      // Without it the names of the stages stand there, which is what leads on.
      return sent.ok ? sent.data : null;
    },
  });
  useEffect(() => void refetch(), [refetch, studyId, stages]);
  return <Course stages={data ?? stages} current={current} />;
}
