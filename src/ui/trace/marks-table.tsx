"use client";

import { useState } from "react";
import { HappeningName, LevelName, markWords, type Correction, type Mark } from "@/core/run/mark";
import { formatDuration } from "@/core/units/number";
import { Button, Field, Form, Input } from "../controls/form";
import { Select } from "../controls/select";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

const LEVELS = LevelName.options.map((value) => ({ value, text: markWords({ name: value }) }));
const HAPPENINGS = HappeningName.options
  .filter((name) => name !== "dips")
  .map((value) => ({ value, text: value }));

/** What was found in a trace, each line of which can be corrected by hand. */
export function MarksTable({
  marks,
  corrections,
  startMs,
  onCorrect,
}: {
  marks: readonly Mark[];
  corrections: readonly Correction[];
  startMs: number;
  /** Told all corrections as they are to be from now on. */
  onCorrect: (corrections: Correction[]) => void;
}) {
  const add = (one: Correction) => onCorrect([...corrections, one]);
  const first = marks.find(({ of }) => of === "level")?.id;
  return (
    <>
      <table className="w-full">
        <thead>
          <tr>
            <th className={HEAD_RIGHT}>at, s</th>
            <th className={HEAD}>what</th>
            <th className={`${HEAD} min-w-48`}>why</th>
            <th className={HEAD}>
              <span className="sr-only">corrections</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {marks.map((mark) => (
            <tr key={mark.id} data-mark={mark.name}>
              <td className={`${FIGURE} w-24`}>
                {mark.id === first ? (
                  "0"
                ) : (
                  <MovedTime
                    key={mark.ms}
                    label={`${markWords(mark)} at`}
                    seconds={(mark.ms - startMs) / 1e3}
                    onMove={(seconds) =>
                      add({ do: "move", id: mark.id, ms: startMs + seconds * 1e3 })
                    }
                  />
                )}
              </td>
              <td className={`${CELL} w-40`}>
                <Select
                  label={`What it is, at ${formatDuration(mark.ms - startMs)}`}
                  value={mark.name}
                  options={
                    mark.of === "level"
                      ? LEVELS.map((one) =>
                          one.value === mark.name ? { ...one, text: markWords(mark) } : one,
                        )
                      : [{ value: mark.name, text: mark.name }, ...HAPPENINGS].filter(
                          (option, i, all) =>
                            all.findIndex(({ value }) => value === option.value) === i,
                        )
                  }
                  onChange={(name) =>
                    name &&
                    name !== mark.name &&
                    add({ do: "rename", id: mark.id, name: name as LevelName })
                  }
                />
              </td>
              <td className={CELL}>
                {mark.text}
                {mark.corrected && (
                  <span className="ml-1 font-semibold">✎ {mark.corrected} by hand</span>
                )}
              </td>
              <td className={`${CELL} text-right`}>
                {mark.id !== first && (
                  <button
                    type="button"
                    className="underline"
                    aria-label={`Remove ${markWords(mark)} at ${formatDuration(mark.ms - startMs)}`}
                    onClick={() => add({ do: "strike", id: mark.id })}
                  >
                    Remove
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <NewMark startMs={startMs} onAdd={add} />
        {corrections.length > 0 && (
          <>
            <Button onClick={() => onCorrect(corrections.slice(0, -1))}>
              Undo the last correction
            </Button>
            <Button onClick={() => onCorrect([])}>
              {corrections.length === 1 ? "As it was found" : `Undo all ${corrections.length}`}
            </Button>
          </>
        )}
      </div>
    </>
  );
}

/** A time that is moved by typing another one. */
function MovedTime({
  label,
  seconds,
  onMove,
}: {
  label: string;
  seconds: number;
  onMove: (seconds: number) => void;
}) {
  const [text, setText] = useState(seconds.toFixed(1));
  const move = () => {
    const value = Number(text.replace(",", "."));
    if (!Number.isFinite(value) || text.trim() === "") return setText(seconds.toFixed(1));
    if (Math.abs(value - seconds) > 0.049) onMove(value);
  };
  return (
    <Input
      aria-label={label}
      className="figure !w-20 !py-0.5 text-right"
      inputMode="decimal"
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={move}
      onKeyDown={(event) => event.key === "Enter" && move()}
    />
  );
}

function NewMark({ startMs, onAdd }: { startMs: number; onAdd: (one: Correction) => void }) {
  const [at, setAt] = useState("");
  const [name, setName] = useState<string>("folded");
  const [error, setError] = useState<string | undefined>();
  return (
    <Form
      className="flex flex-wrap items-end gap-2"
      onSend={() => {
        const seconds = Number(at.replace(",", "."));
        if (at.trim() === "" || !Number.isFinite(seconds)) return setError("a number of seconds");
        setError(undefined);
        setAt("");
        const of = LevelName.safeParse(name).success ? "level" : "happening";
        const ms = startMs + seconds * 1e3;
        onAdd({ do: "add", id: `by hand ${Date.now()}`, of, name: name as LevelName, ms });
      }}
    >
      <Field label="Add, at second" error={error} className="w-32">
        <Input
          name="mark-seconds"
          className="figure text-right"
          inputMode="decimal"
          value={at}
          onChange={(event) => setAt(event.target.value)}
        />
      </Field>
      <Field label="what begins or happens" className="w-44">
        <Select
          name="mark-name"
          value={name}
          options={[...LEVELS, ...HAPPENINGS]}
          onChange={setName}
        />
      </Field>
      <Button type="submit">Add</Button>
    </Form>
  );
}
