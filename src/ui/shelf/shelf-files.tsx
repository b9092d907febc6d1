"use client";

import { useRouter } from "next/navigation";
import { useRef } from "react";
import { counted } from "@/core/units/counted";
import { Button } from "../controls/form";
import { sendText } from "../controls/send";
import { sayFailed, saySaved } from "../controls/toast";

/** The shelf out as a file, and parts in from one: all of it or nothing. */
export function ShelfFiles() {
  const router = useRouter();
  const picker = useRef<HTMLInputElement>(null);

  async function take(file: File) {
    const sent = await sendText<{ added: number }>("/api/shelf/import", await file.text());
    if (!sent.ok) return sayFailed(`Nothing was added: ${sent.error.message}`);
    const { added } = sent.data;
    saySaved(`${counted(added, "part")} added.`);
    router.refresh();
  }

  return (
    <div className="flex items-center gap-3">
      <span className="text-secondary">
        Export{" "}
        <a href="/api/shelf/export?format=json" className="text-ink underline" download>
          JSON
        </a>{" "}
        <a href="/api/shelf/export?format=csv" className="text-ink underline" download>
          CSV
        </a>
      </span>
      <input
        ref={picker}
        type="file"
        accept=".json,.csv,application/json,text/csv"
        className="hidden"
        aria-label="A shelf file, JSON or CSV"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) void take(file);
          event.target.value = "";
        }}
      />
      <Button onClick={() => picker.current?.click()}>Import</Button>
    </div>
  );
}
