"use client";

import { useForm } from "react-hook-form";
import { BackupSettings } from "@/core/backup/backup";
import { plainWords } from "@/core/units/plain-words";
import { Checkbox } from "../controls/checkbox";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input } from "../controls/form";
import { RefusedError } from "../controls/send";
import { saySaved } from "../controls/toast";
import { useBackupChanges } from "./use-backups";

/** Where backups go, and how many of the daily ones are kept. */
export function BackupSettingsForm({ settings }: { settings: BackupSettings }) {
  const { set } = useBackupChanges();
  const {
    register,
    handleSubmit,
    setError,
    setValue,
    watch,
    formState: { errors },
  } = useForm({
    defaultValues: {
      daily: settings.daily,
      folder: settings.folder ?? "",
      days: String(settings.days),
      weeks: String(settings.weeks),
      months: String(settings.months),
    },
  });
  const daily = watch("daily");
  const save = handleSubmit((typed) => {
    const count = (text: string) => (text.trim() === "" ? NaN : Number(text));
    const parsed = BackupSettings.safeParse(
      {
        daily: typed.daily,
        folder: typed.folder.trim() === "" ? null : typed.folder,
        days: count(typed.days),
        weeks: count(typed.weeks),
        months: count(typed.months),
      },
      { error: plainWords },
    );
    const wrong = (path: unknown, message: string) =>
      setError(path as "folder", { message: message.replace(/^\w+: /, "") });
    if (!parsed.success)
      return parsed.error.issues.forEach(({ path, message }) => wrong(path[0], message));
    set.mutate(parsed.data, {
      onSuccess: () => saySaved("It is kept how backups are made."),
      onError: (error) => {
        const fields = error instanceof RefusedError ? error.refused.fields : [];
        for (const { path, message } of fields) wrong(path, message);
        if (fields.length === 0) wrong("folder", error.message);
      },
    });
  });
  const text = (name: "folder" | "days" | "weeks" | "months", label: string, hint?: string) => (
    <Field label={label} hint={hint} error={errors[name]?.message}>
      <Input
        inputMode={name === "folder" ? "text" : "numeric"}
        spellCheck={false}
        aria-invalid={errors[name] ? true : undefined}
        {...register(name)}
      />
    </Field>
  );
  return (
    <Fold summary="How backups are made">
      <Form onSend={save} className="mt-3 max-w-xl space-y-3">
        <Checkbox checked={daily} onChange={(next) => setValue("daily", next)}>
          One a day, by itself, while Nerrit runs
        </Checkbox>
        {text(
          "folder",
          "Folder",
          "On another drive they outlive this one. Empty: beside the database.",
        )}
        <div className="grid grid-cols-3 gap-3">
          {text("days", "Days kept")}
          {text("weeks", "Weeks kept")}
          {text("months", "Months kept")}
        </div>
        <p className="text-sm text-secondary">
          Of the daily ones the latest of each day, week and month stays. Those made by hand stay
          until you remove them.
        </p>
        <Button type="submit" disabled={set.isPending}>
          Save
        </Button>
      </Form>
    </Fold>
  );
}
