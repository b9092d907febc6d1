"use client";

import { useState } from "react";
import { Button, Field, Form, Input } from "../controls/form";
import { saySaved } from "../controls/toast";
import { useHostChanges } from "./use-hosts";

/** Adds a host by its name; what the SSH configuration names is offered. */
export function AddHost({ offered }: { offered: readonly string[] }) {
  const { add } = useHostChanges();
  const [name, setName] = useState("");
  const put = (asked: string) => {
    setName(asked);
    add.mutate(asked, {
      onSuccess: ({ name: added }) => {
        setName((typed) => (typed === asked ? "" : typed));
        saySaved(`${added} is added.`);
      },
    });
  };
  return (
    <section className="border border-line bg-sheet p-4">
      <Form onSend={() => put(name)} className="flex flex-wrap items-start gap-2">
        <Field
          label="Add a host"
          className="grow basis-72"
          hint="A name that ssh understands. ssh has to log in there without asking for a password."
          error={add.error?.message}
        >
          <Input
            name="host"
            spellCheck={false}
            placeholder="lab2 or me@10.0.0.7"
            value={name}
            onChange={(event) => setName(event.target.value)}
            aria-invalid={add.error ? true : undefined}
          />
        </Field>
        <Button main type="submit" disabled={add.isPending} className="mt-5">
          {add.isPending ? "Checking ..." : "Add"}
        </Button>
      </Form>
      {offered.length > 0 && (
        <p className="mt-2 flex flex-wrap items-baseline gap-2">
          <span className="text-sm text-secondary">From your SSH configuration:</span>
          {offered.map((one) => (
            <Button key={one} disabled={add.isPending} onClick={() => put(one)}>
              Add {one}
            </Button>
          ))}
        </p>
      )}
    </section>
  );
}
