"use client";

import { Stated, STATED_CHOICES, statedWords } from "@/core/run/stated";
import { Fold } from "../../controls/fold";
import { Field, Input } from "../../controls/form";
import { Select } from "../../controls/select";

/** What is typed of the bench; the temperature as text. */
export type TypedStated = Omit<Stated, "ambientCelsius"> & { ambient: string };

export const typedStated = ({ ambientCelsius, ...rest }: Stated): TypedStated => ({
  ...rest,
  ambient: ambientCelsius === null ? "" : String(ambientCelsius),
});

/** As it is sent; a temperature that is no number goes out as such, so that the route refuses it. */
export const statedOf = ({ ambient, ...rest }: TypedStated): object => ({
  ...rest,
  ambientCelsius: ambient.trim() === "" ? null : numberOrText(ambient),
});

const numberOrText = (text: string) => {
  const value = Number(text.replace("°C", "").replace(",", ".").replace("−", "-").trim());
  return Number.isFinite(value) ? value : text;
};

/** Asks once for what no system tells of the bench; it is carried over to every further run. */
export function StatedFields({
  value,
  onChange,
}: {
  value: TypedStated;
  onChange: (value: TypedStated) => void;
}) {
  const parsed = Stated.safeParse(statedOf(value));
  const words = parsed.success
    ? statedWords(parsed.data).map(({ what, value: said }) => `${what}: ${said}`)
    : ["the room temperature makes no sense yet"];
  const choice = <K extends keyof typeof STATED_CHOICES>(name: K) => {
    const { label, words } = STATED_CHOICES[name];
    return (
      <Field label={label}>
        <Select
          name={`stated-${name}`}
          value={value[name] ?? ""}
          options={[
            { value: "", text: "not said" },
            ...Object.entries(words).map(([key, text]) => ({ value: key, text })),
          ]}
          onChange={(next) => onChange({ ...value, [name]: next || null })}
        />
      </Field>
    );
  };
  return (
    <Fold
      summary={
        <span>
          <span className="font-semibold">Test conditions:</span>{" "}
          <span className="text-secondary">
            {words.length === 0
              ? "not said yet; it is kept with every run, and asked once"
              : words.join(" · ")}
          </span>
        </span>
      }
    >
      <div className="mt-2 grid grid-cols-2 gap-3 lg:grid-cols-4">
        <Field
          label="Room temperature"
          hint="°C; empty: not said"
          error={parsed.error?.issues[0]?.message}
        >
          <Input
            name="stated-ambient"
            inputMode="decimal"
            value={value.ambient}
            onChange={(event) => onChange({ ...value, ambient: event.target.value })}
          />
        </Field>
        {choice("fan")}
        {choice("heatsink")}
        {choice("drive")}
      </div>
    </Fold>
  );
}
