"use client";

import { useRouter } from "next/navigation";
import { send } from "../controls/send";
import { sayFailed, sayRemoved } from "../controls/toast";

/** Takes a study out of sight, with a way back. */
export function RemoveStudy({ id, title }: { id: string; title: string }) {
  const router = useRouter();
  const url = `/api/studies/${id}`;
  async function remove() {
    const sent = await send("DELETE", url);
    router.refresh();
    if (!sent.ok) return sayFailed(sent.error.message);
    sayRemoved(`${title} is removed; it can be put back for 30 days, under Removed.`, async () => {
      const back = await send("PUT", url);
      router.refresh();
      return back.ok ? null : back.error.message;
    });
  }
  return (
    <button
      type="button"
      className="absolute top-2 right-3 bg-sheet text-[13px] text-secondary underline hover:text-ink"
      onClick={remove}
    >
      Remove<span className="sr-only"> the study {title}</span>
    </button>
  );
}
