"use client";

import type { Answer } from "@/core/archive/answer";
import { Button } from "../controls/form";
import { sayFailed } from "../controls/toast";
import { useGoOn } from "../frame/go-on";
import { useTakeIn } from "./use-archive";

/** The column of a study in one's own SQL. */
const COLUMN = "study_id";

/** Imports the study that an answer names, where it names exactly one. */
export function TakeIn({ answer: { columns, rows } }: { answer: Answer }) {
  const at = columns.findIndex(({ name }) => name === COLUMN);
  const ids = new Set(at < 0 ? [] : rows.map((row) => String(row[at])));
  const takeIn = useTakeIn();
  const goOn = useGoOn();
  if (ids.size !== 1) return null;
  const [id] = ids;
  return (
    <Button
      className="text-sm"
      disabled={takeIn.isPending}
      onClick={() => {
        takeIn.mutate(id!, {
          onSuccess: (study) => goOn(`/studies/${study.id}`),
          onError: ({ message }) => sayFailed(message),
        });
      }}
    >
      {takeIn.isPending ? "Importing ..." : "Import this study"}
    </Button>
  );
}
