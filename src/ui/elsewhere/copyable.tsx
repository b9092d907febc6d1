"use client";

import { Copy } from "lucide-react";
import { sayFailed, saySaved } from "../controls/toast";
import { copyText } from "../out/save";

/** A command in its own type, with a button that copies the command. */
export function Copyable({ text }: { text: string }) {
  const copy = async () => {
    try {
      await copyText(text);
      saySaved("The command is on the clipboard.");
    } catch (error) {
      sayFailed((error as Error).message);
    }
  };
  return (
    <span className="mt-1 flex items-start gap-2 border border-line bg-paper px-2 py-1">
      <code className="min-w-0 flex-1 font-mono text-sm [overflow-wrap:anywhere]">{text}</code>
      <button
        type="button"
        aria-label="Copy the command"
        className="p-1 text-secondary hover:text-ink"
        onClick={() => void copy()}
      >
        <Copy size={16} aria-hidden />
      </button>
    </span>
  );
}
