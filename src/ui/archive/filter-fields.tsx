"use client";

import { Controller, type Control, type FieldErrors, type UseFormRegister } from "react-hook-form";
import type { Filters, Question } from "@/core/archive/questions/question";
import { Checkbox } from "../controls/checkbox";
import { Field, Input } from "../controls/form";
import { DIRECTIONS, Select } from "../controls/select";

/** What stands in the form of a question. */
export type Typed = Omit<Filters, "gbps"> & { gbps: string; sql: string };

const TEXTS = {
  words: "Part, maker, chip",
  gbps: "Link, Gb/s",
  host: "Host",
  since: "Since",
  until: "Until",
} as const;
const isDay = (filter: string) => filter === "since" || filter === "until";

/** The filters of a ready question. */
export function FilterFields({
  question: { filters },
  register,
  control,
  errors,
}: {
  question: Question;
  register: UseFormRegister<Typed>;
  control: Control<Typed>;
  errors: FieldErrors<Typed>;
}) {
  const texts = (Object.keys(TEXTS) as (keyof typeof TEXTS)[]).filter((one) =>
    filters.includes(one),
  );
  return (
    <>
      <div className="flex flex-wrap items-start gap-3">
        {texts.map((filter) => (
          <Field
            key={filter}
            label={TEXTS[filter]}
            error={errors[filter]?.message}
            className="w-40"
          >
            <Input
              type={isDay(filter) ? "date" : "text"}
              inputMode={filter === "gbps" ? "decimal" : undefined}
              aria-invalid={errors[filter] ? true : undefined}
              className="w-full"
              {...register(filter)}
            />
          </Field>
        ))}
        {filters.includes("direction") && (
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
  );
}
