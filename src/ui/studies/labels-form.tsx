"use client";

import { useForm } from "react-hook-form";
import { StudyLabels } from "@/core/study/study";
import { plainWords } from "@/core/units/plain-words";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { saySaved } from "../controls/toast";

/** A study as the list of studies knows it. */
export interface ListedStudy {
  id: string;
  title: string;
  tags: string[];
  isAside: boolean;
}

/** The title of a study and its tags, to be changed. */
export function LabelsForm({ study, onSaved }: { study: ListedStudy; onSaved: () => void }) {
  const {
    register,
    handleSubmit,
    setError,
    formState: { errors, isSubmitting },
  } = useForm({ defaultValues: { title: study.title, tags: study.tags.join(", ") } });

  const save = handleSubmit(async (typed) => {
    const tags = typed.tags.split(",").flatMap((tag) => tag.trim() || []);
    const labels = StudyLabels.safeParse({ title: typed.title, tags }, { error: plainWords });
    if (!labels.success) {
      for (const { path, message } of labels.error.issues)
        setError(path[0] === "title" ? "title" : "tags", { message });
      return;
    }
    const was = { title: study.title, tags: study.tags };
    const sent = await send("PUT", `/api/studies/${study.id}/labels`, { ...labels.data, was });
    if (!sent.ok) return setError("root", { message: sent.error.message });
    saySaved("Title and tags are saved.");
    onSaved();
  });

  return (
    <Form onSend={save}>
      <Field label="Title" error={errors.title?.message}>
        <Input aria-invalid={errors.title ? true : undefined} {...register("title")} />
      </Field>
      <Field
        label="Tags"
        hint="separated by commas, for example: field kit, 2026, cables"
        error={errors.tags?.message}
      >
        <Input aria-invalid={errors.tags ? true : undefined} {...register("tags")} />
      </Field>
      {errors.root && <Trouble>{errors.root.message}</Trouble>}
      <Button main type="submit" disabled={isSubmitting}>
        Save
      </Button>
    </Form>
  );
}
