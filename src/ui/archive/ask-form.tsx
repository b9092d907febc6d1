"use client";

import { useState } from "react";
import { Controller, useForm } from "react-hook-form";
import { Filters, type FilterName } from "@/core/archive/questions/question";
import { findQuestion, QUESTIONS, sqlOf } from "@/core/archive/questions/questions";
import { plainWords } from "@/core/units/plain-words";
import { Checkbox } from "../controls/checkbox";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { BOX } from "../controls/look";
import { DIRECTIONS, Select } from "../controls/select";
import { AnswerShown } from "./answer-shown";
import { useAsk } from "./use-archive";

/** One's own SQL, among the questions. */
const OWN = "sql";

const EMPTY = Filters.parse({});

/** What stands in the form. */
type Typed = Omit<Filters, "gbps"> & { gbps: string; sql: string };

/** A ready question with its filters, or SQL, and what the archive answers. */
export function AskForm() {
  const ask = useAsk();
  const [name, setName] = useState(QUESTIONS[0]!.name);
  const question = findQuestion(name);
  const form = useForm<Typed>({ defaultValues: { ...EMPTY, gbps: "", sql: "" } });
  const { register, handleSubmit, setError, control, getValues, setValue, formState } = form;
  const { errors } = formState;
  const filtersIn = (typed: Typed) =>
    Filters.safeParse({ ...typed, gbps: typed.gbps.trim() || 0 }, { error: plainWords });
  const send = handleSubmit((typed) => {
    if (!question) return ask.mutate({ sql: typed.sql });
    const filters = filtersIn(typed);
    if (filters.success) return ask.mutate({ question: question.name, filters: filters.data });
    for (const { path, message } of filters.error.issues)
      setError(path[0] as FilterName, { message });
  });
  const choose = (next: string) => {
    // Whoever goes on to SQL begins with the question that was shown.
    if (next === OWN && question && getValues("sql") === "")
      setValue("sql", sqlOf(question, filtersIn(getValues()).data ?? EMPTY));
    setName(next);
    ask.reset();
  };
  const text = (filter: "words" | "gbps" | "host" | "since" | "until", label: string) =>
    question?.filters.includes(filter) && (
      <Field label={label} error={errors[filter]?.message} className="w-40">
        <Input
          type={filter === "since" || filter === "until" ? "date" : "text"}
          inputMode={filter === "gbps" ? "decimal" : undefined}
          aria-invalid={errors[filter] ? true : undefined}
          className="w-full"
          {...register(filter)}
        />
      </Field>
    );
  return (
    <section aria-label="Ask the archive" className="space-y-4">
      <Form onSend={send} className="space-y-3">
        <Field label="Question">
          <Select
            name="question"
            value={name}
            options={[
              ...QUESTIONS.map((one) => ({ value: one.name, text: one.title })),
              { value: OWN, text: "Your own SQL" },
            ]}
            onChange={(next) => next && choose(next)}
            className="w-full max-w-2xl"
          />
        </Field>
        {question ? (
          <>
            <p className="max-w-2xl text-secondary">{question.words}</p>
            <div className="flex flex-wrap items-start gap-3">
              {text("words", "Part, maker, chip")}
              {text("gbps", "Link, Gb/s")}
              {question.filters.includes("direction") && (
                <Field label="Direction" className="w-36">
                  <Controller
                    control={control}
                    name="direction"
                    render={({ field }) => (
                      <Select
                        name="direction"
                        value={field.value}
                        options={[{ value: "", text: "both" }, ...DIRECTIONS]}
                        onChange={field.onChange}
                        className="w-full"
                      />
                    )}
                  />
                </Field>
              )}
              {text("host", "Host")}
              {text("since", "Since")}
              {text("until", "Until")}
            </div>
            <Controller
              control={control}
              name="simulated"
              render={({ field }) => (
                <Checkbox
                  checked={field.value === "yes"}
                  onChange={(next) => field.onChange(next ? "yes" : "no")}
                >
                  Count simulated runs too
                </Checkbox>
              )}
            />
          </>
        ) : (
          <Field
            label="SELECT statement"
            hint="Tables and columns are in docs/archive.md. The archive is only read."
          >
            <textarea
              rows={10}
              spellCheck={false}
              className={`${BOX} figure w-full text-[13px]`}
              {...register("sql")}
            />
          </Field>
        )}
        <Button type="submit" main disabled={ask.isPending}>
          {ask.isPending ? "Asking ..." : "Ask"}
        </Button>
      </Form>
      {ask.error && (
        <Trouble>
          <span className="whitespace-pre-wrap">{ask.error.message}</span>
        </Trouble>
      )}
      {ask.data && (
        <AnswerShown
          answer={ask.data}
          question={question}
          isSimulatedLeftOut={
            question !== null &&
            ask.variables !== undefined &&
            "filters" in ask.variables &&
            ask.variables.filters.simulated !== "yes"
          }
        />
      )}
    </section>
  );
}
