"use client";

import { useRef } from "react";
import { Button } from "../controls/form";

/** Larger than this no log is looked through, bytes. */
export const MOST_LOG_BYTES = 60 * 2 ** 20;

/** A button that chooses the log of another program. */
export function FilePicker({
  label,
  words,
  accept = ".csv,.tsv,.txt,.log,text/*",
  disabled,
  onPick,
}: {
  /** What is chosen, for those who do not see the button. */
  label: string;
  /** What stands on the button. */
  words: string;
  /** Which files are offered. */
  accept?: string;
  disabled?: boolean;
  onPick: (file: File) => void;
}) {
  const picker = useRef<HTMLInputElement>(null);
  return (
    <>
      <input
        ref={picker}
        type="file"
        accept={accept}
        className="hidden"
        aria-label={label}
        onChange={(event) => {
          const [picked] = event.target.files ?? [];
          if (picked) onPick(picked);
          event.target.value = "";
        }}
      />
      <Button disabled={disabled} onClick={() => picker.current?.click()}>
        {words}
      </Button>
    </>
  );
}
