"use client";

import { useRouter } from "next/navigation";
import { useRef, useState } from "react";
import { counted } from "@/core/units/counted";
import { Button, Trouble } from "../controls/form";
import { FollowedLine, useFollowed } from "../controls/followed";
import { sendBytes } from "../controls/send";
import { saySaved } from "../controls/toast";
import { useGoOn } from "../frame/go-on";

/** Takes in a study's file, whole or not at all. */
export function TakeInStudy() {
  const router = useRouter();
  const goOn = useGoOn();
  const picker = useRef<HTMLInputElement>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const followed = useFollowed();

  async function take(file: File) {
    setBusy(true);
    setTrouble(null);
    const sent = await followed.follow((more) =>
      sendBytes<{ id: string; newParts: number }>("/api/studies/file", file, more),
    );
    setBusy(false);
    if (!sent.ok) return setTrouble(`${file.name}: ${sent.error.message} Nothing was imported.`);
    saySaved(`The study is here; ${counted(sent.data.newParts, "part")} put on the shelf.`);
    goOn(`/studies/${sent.data.id}`);
    router.refresh();
  }

  return (
    <div className="space-y-2">
      <input
        ref={picker}
        type="file"
        accept=".json,.zip,application/json,application/zip"
        className="hidden"
        aria-label="A file of a study"
        onChange={(event) => {
          const [file] = event.target.files ?? [];
          if (file) void take(file);
          event.target.value = "";
        }}
      />
      <Button disabled={busy} onClick={() => picker.current?.click()}>
        {busy ? "Importing …" : "Import a study"}
      </Button>
      <FollowedLine followed={followed} />
      {trouble && <Trouble>{trouble}</Trouble>}
    </div>
  );
}
