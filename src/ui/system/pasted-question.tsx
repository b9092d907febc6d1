"use client";

import { useState } from "react";
import { LOOK_COMMANDS } from "@/core/elsewhere/monitor-commands";
import { SYSTEM_NAMES, type System } from "@/core/elsewhere/machines";
import { reportsIn } from "@/core/system/pasted/pasted";
import { Field, Trouble } from "../controls/form";
import { BOX } from "../controls/look";
import { Select } from "../controls/select";
import { Toggle } from "../controls/toggle";
import { Copyable } from "../elsewhere/copyable";

/** A text that another machine wrote, and which of its drives is meant. */
export interface Pasted {
  text: string;
  drive: number;
}

const SYSTEMS = (Object.keys(SYSTEM_NAMES) as System[]).map((value) => ({
  value,
  text: SYSTEM_NAMES[value],
}));

/** The drives that a text names, or why there are none. */
function drivesIn(text: string): { ends: string[]; trouble: string | null } {
  if (text.trim() === "") return { ends: [], trouble: null };
  try {
    return { ends: reportsIn(text).map(({ path }) => path), trouble: null };
  } catch (error) {
    return { ends: [], trouble: (error as Error).message };
  }
}

/** Asks for the text of another machine's own command, and for the drive that is meant. */
export function PastedQuestion({
  pasted: { text, drive },
  onChange,
}: {
  pasted: Pasted;
  onChange: (pasted: Pasted) => void;
}) {
  const [system, setSystem] = useState<System>("macos");
  const { ends, trouble } = drivesIn(text);
  const { command, note } = LOOK_COMMANDS[system];
  return (
    <div className="space-y-3">
      <Field label="System of that machine">
        <Toggle
          label="System of that machine"
          value={system}
          options={SYSTEMS}
          onChange={setSystem}
        />
      </Field>
      <div>
        Type this command there, and paste all that the command writes.
        <Copyable text={command} />
        <span className="text-sm text-secondary">{note}</span>
      </div>
      <Field label="What the command wrote">
        <textarea
          name="system-text"
          rows={5}
          value={text}
          spellCheck={false}
          onChange={(event) => onChange({ text: event.target.value, drive: 0 })}
          className={`${BOX} figure text-[13px]`}
        />
      </Field>
      {trouble && <Trouble>{trouble}</Trouble>}
      {ends.length > 1 && (
        <Field label="Which drive">
          <Select
            name="system-drive"
            value={String(drive)}
            options={ends.map((end, i) => ({ value: String(i), text: end }))}
            onChange={(next) => onChange({ text, drive: Number(next) })}
          />
        </Field>
      )}
    </div>
  );
}

/** Whether a text can be asked about. */
export const isReadable = ({ text }: Pasted): boolean => drivesIn(text).ends.length > 0;
