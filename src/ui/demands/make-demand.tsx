"use client";

import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { KEPT_UP_WITH, KeptUpWith } from "@/core/recording/demand";
import { Button, Trouble } from "../controls/form";
import { Link } from "../controls/link";
import { Select } from "../controls/select";
import { orThrow, send } from "../controls/send";

/** A study that a demand can be added to. */
export interface StudyTitle {
  id: string;
  title: string;
}

/** Makes a demand of work, to be held against every rig of a study. */
export function MakeDemand({
  url,
  studies,
}: {
  /** The route that makes the demand of the work. */
  url: string;
  /** Those whose rigs the work can be held against. */
  studies: readonly StudyTitle[];
}) {
  const [studyId, setStudyId] = useState(studies[0]?.id ?? "");
  const [keptUpWith, setKeptUpWith] = useState<KeptUpWith>("p99");
  const made = useMutation({
    mutationFn: async () => {
      const order = { studyId, keptUpWith };
      await orThrow(send("POST", url, order));
      return studies.find((one) => one.id === studyId)!;
    },
  });
  if (studies.length === 0) return null;
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span>Would a rig keep up with</span>
      <Select
        label="Seconds to keep up with"
        name="kept-up-with"
        className="!w-40"
        value={keptUpWith}
        options={KeptUpWith.options.map((value) => ({ value, text: KEPT_UP_WITH[value] }))}
        onChange={(next) => setKeptUpWith(KeptUpWith.parse(next))}
      />
      <span>
        of this work? Hold the work against every rig of
        {studies.length === 1 && ` ${studies[0]!.title}.`}
      </span>
      {studies.length > 1 && (
        <Select
          label="Study"
          name="demand-study"
          className="!w-72 max-w-full"
          value={studyId}
          options={studies.map(({ id: value, title: text }) => ({ value, text }))}
          onChange={setStudyId}
        />
      )}
      <Button disabled={made.isPending} onClick={() => made.mutate()}>
        Make a demand
      </Button>
      {made.error && <Trouble>{made.error.message}</Trouble>}
      {made.data && (
        <span role="status">
          Added.{" "}
          <Link className="underline" href={`/studies/${made.data.id}`}>
            See which rigs of {made.data.title} meet the demand
          </Link>
        </span>
      )}
    </div>
  );
}
