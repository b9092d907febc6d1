"use client";

import { useForm } from "react-hook-form";
import { ArchiveSettings } from "@/core/archive/view";
import { plainWords } from "@/core/units/plain-words";
import { Checkbox } from "../controls/checkbox";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input } from "../controls/form";
import { BOX } from "../controls/look";
import { RefusedError } from "../controls/send";
import { saySaved } from "../controls/toast";
import { useArchiveChanges } from "./use-archive";

/** Where the archive is, and which others are asked with it. */
export function ArchiveSettingsForm({
  settings,
  isOpen,
}: {
  settings: ArchiveSettings;
  isOpen: boolean;
}) {
  const { set } = useArchiveChanges();
  const {
    register,
    handleSubmit,
    setError,
    setValue,
    watch,
    formState: { errors },
  } = useForm({
    defaultValues: {
      folder: settings.folder ?? "",
      samples: settings.samples,
      others: settings.others.join("\n"),
    },
  });
  const samples = watch("samples");
  const wrong = (path: unknown, message: string) =>
    setError(path === "others" ? "others" : "folder", {
      message: message.replace(/^\w+: /, ""),
    });
  const save = handleSubmit((typed) => {
    const lines = typed.others.split("\n").map((line) => line.trim());
    const parsed = ArchiveSettings.safeParse(
      {
        folder: typed.folder.trim() === "" ? null : typed.folder,
        samples: typed.samples,
        others: lines.filter(Boolean),
      },
      { error: plainWords },
    );
    if (!parsed.success)
      return parsed.error.issues.forEach(({ path, message }) => wrong(path[0], message));
    set.mutate(parsed.data, {
      onSuccess: () => saySaved("The folder of the archive is kept."),
      onError: (error) => {
        const fields = error instanceof RefusedError ? error.refused.fields : [];
        for (const { path, message } of fields) wrong(path, message);
        if (fields.length === 0) wrong("folder", error.message);
      },
    });
  });
  return (
    <Fold summary="Where the archive is" open={isOpen}>
      <Form onSend={save} className="mt-3 max-w-xl space-y-3">
        <Field
          label="Folder of this bench's archive"
          hint="A mounted share works: several benches can add to one archive at the same time."
          error={errors.folder?.message}
        >
          <Input
            placeholder="/mnt/lab/archive"
            spellCheck={false}
            aria-invalid={errors.folder ? true : undefined}
            {...register("folder")}
          />
        </Field>
        <Checkbox checked={samples} onChange={(next) => setValue("samples", next)}>
          Archive the sample studies too
        </Checkbox>
        <Field
          label="Other archives to ask"
          hint="One folder on each line. Runs that two archives hold count once."
          error={errors.others?.message}
        >
          <textarea
            rows={2}
            spellCheck={false}
            className={`${BOX} w-full`}
            {...register("others")}
          />
        </Field>
        <Button type="submit" disabled={set.isPending}>
          Save
        </Button>
      </Form>
    </Fold>
  );
}
