"use client";

import { useQuery } from "@tanstack/react-query";
import { useForm } from "react-hook-form";
import * as z from "zod";
import { capital } from "@/core/chain/wording";
import { Slot } from "@/core/study/slot";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { orThrow, send } from "../controls/send";
import { useGoOn } from "../frame/go-on";
import type { ListedStudy } from "./labels-form";

/** Makes a study like another one, with other parts in some places of its rigs, and goes to measure them. */
export function CopyForm({ study }: { study: ListedStudy }) {
  const goOn = useGoOn();
  const url = `/api/studies/${study.id}/copy`;
  const { data: slots, error } = useQuery({
    queryKey: ["slots", study.id],
    queryFn: async ({ signal }) =>
      z.array(Slot).parse(await orThrow(send("GET", url, undefined, { signal }))),
    gcTime: 0,
  });
  const {
    register,
    handleSubmit,
    setError,
    setValue,
    watch,
    formState: { errors, isSubmitting },
  } = useForm({ defaultValues: { title: study.title, parts: {} as Record<string, string> } });
  const parts = watch("parts");

  const copy = handleSubmit(async (typed) => {
    const sent = await send<{ id: string }>("POST", url, typed);
    if (sent.ok) return goOn(`/studies/${sent.data.id}/measure?like=${study.id}`);
    const field = sent.error.fields.find(({ path }) => path === "title");
    setError(field ? "title" : "root", { message: field?.message ?? sent.error.message });
  });

  if (error) return <Trouble>{error.message}</Trouble>;
  if (!slots) return <p className="text-secondary">Reading the rigs of the study …</p>;
  return (
    <Form onSend={copy}>
      <p className="text-secondary">
        The copy has the same rigs, demands and drills, and no runs. Choose other parts where the
        new test has others.
      </p>
      <Field label="Title" error={errors.title?.message}>
        <Input aria-invalid={errors.title ? true : undefined} {...register("title")} />
      </Field>
      {slots.map(({ part, kind, others }) => (
        <Field key={part.id} label={`${capital(kind)}: ${part.name}`}>
          <Select
            name={`slot-${part.id}`}
            value={parts[part.id] ?? part.id}
            options={others.map(({ id, name }) => ({
              value: id,
              text: id === part.id ? `${name}, the same` : name,
            }))}
            onChange={(next) => setValue("parts", { ...parts, [part.id]: next })}
          />
        </Field>
      ))}
      {errors.root && <Trouble>{errors.root.message}</Trouble>}
      <Button main type="submit" disabled={isSubmitting}>
        Make the copy
      </Button>
    </Form>
  );
}
