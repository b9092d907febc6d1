"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { Button } from "../controls/form";
import { send } from "../controls/send";
import { sayFailed, sayRemoved, saySaved } from "../controls/toast";

/** Takes the sample studies away, or puts them back. */
export function DemoSwitch({ there }: { there: boolean }) {
  const router = useRouter();
  const [busy, setBusy] = useState(false);

  async function put(): Promise<string | null> {
    const sent = await send("PUT", "/api/demo");
    router.refresh();
    return sent.ok ? null : sent.error.message;
  }

  async function change() {
    setBusy(true);
    if (there) {
      const sent = await send<{ stay: string[] }>("DELETE", "/api/demo");
      router.refresh();
      if (!sent.ok) sayFailed(sent.error.message);
      else if (sent.data.stay.length > 0) {
        saySaved(
          `The sample studies are gone, but for what you have built on: ${sent.data.stay.join(", ")}.`,
        );
      } else sayRemoved("The sample studies are gone, with their parts.", put);
    } else {
      const failed = await put();
      if (failed) sayFailed(failed);
      else saySaved("The sample studies are back.");
    }
    setBusy(false);
  }

  return (
    <Button disabled={busy} onClick={() => void change()}>
      {busy ? "One moment …" : there ? "Remove the sample studies" : "Restore the sample studies"}
    </Button>
  );
}
