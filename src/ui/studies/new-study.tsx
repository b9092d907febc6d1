"use client";

import { useState } from "react";
import { USUAL_TESTS, usualTest } from "@/core/plan/usual-tests";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { useGoOn } from "../frame/go-on";

/** Starts a study with its title and goes to its rigs. */
export function NewStudy() {
  const goOn = useGoOn();
  const [title, setTitle] = useState("");
  const [test, setTest] = useState("");
  const [error, setError] = useState<string | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  return (
    <Form
      onSend={async () => {
        const sent = await send<{ id: string }>("POST", "/api/studies", { title });
        if (sent.ok) return goOn(`/studies/${sent.data.id}/rigs${test && `?test=${test}`}`);
        const field = sent.error.fields.find(({ path }) => path === "title");
        setError(field?.message ?? null);
        setTrouble(field ? null : sent.error.message);
      }}
      className="space-y-2 border border-line bg-sheet p-4"
      id="new"
    >
      <h2 className="font-serif text-xl">A new study</h2>
      <Field
        label="What do you want to know?"
        hint="for example: which cable to carry for the field drive"
        error={error ?? undefined}
      >
        <Input name="title" value={title} onChange={(event) => setTitle(event.target.value)} />
      </Field>
      <Field label="A usual test" hint="sets up its rigs, drills and what to read at the end">
        <Select
          name="usual-test"
          value={test}
          options={[
            { value: "", text: "none, I set it up myself" },
            ...USUAL_TESTS.map(({ id, name }) => ({ value: id, text: name })),
          ]}
          onChange={(next) => {
            const before = usualTest(test)?.question ?? "";
            if (title === before) setTitle(usualTest(next)?.question ?? "");
            setTest(next);
          }}
        />
      </Field>
      {trouble && <Trouble>{trouble}</Trouble>}
      <Button main type="submit">
        Start the study
      </Button>
    </Form>
  );
}
