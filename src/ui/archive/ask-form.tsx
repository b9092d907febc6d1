"use client";

import { useState } from "react";
import { useForm } from "react-hook-form";
import { Filters, type FilterName } from "@/core/archive/questions/question";
import { findQuestion, QUESTIONS, sqlOf } from "@/core/archive/questions/questions";
import { plainWords } from "@/core/units/plain-words";
import { Button, Field, Form, Trouble } from "../controls/form";
import { BOX } from "../controls/look";
import { Select } from "../controls/select";
import { AnswerShown } from "./answer-shown";
import { FilterFields, type Typed } from "./filter-fields";
import { useAsk } from "./use-archive";

/** One's own SQL, among the questions. */
const OWN = "sql";

const EMPTY = Filters.parse({});

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
            <FilterFields
              question={question}
              register={register}
              control={control}
              errors={errors}
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
