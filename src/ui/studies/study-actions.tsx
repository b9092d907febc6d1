"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { Dialog } from "../controls/dialog";
import { send } from "../controls/send";
import { sayFailed, sayRemoved, saySaved } from "../controls/toast";
import { CopyForm } from "./copy-form";
import { LabelsForm, type ListedStudy } from "./labels-form";

/** What can be done with a study in the list: name, tag and copy it, set it aside, remove it with a way back. */
export function StudyActions({ study }: { study: ListedStudy }) {
  const { id, title, isAside } = study;
  const router = useRouter();
  const [open, setOpen] = useState<"labels" | "copy" | null>(null);
  const url = `/api/studies/${id}`;

  async function setAside(aside: boolean): Promise<string | null> {
    const sent = await send("PUT", `${url}/aside`, { aside });
    router.refresh();
    return sent.ok ? null : sent.error.message;
  }

  async function moveAside() {
    const failed = await setAside(!isAside);
    if (failed) return sayFailed(failed);
    if (isAside) return saySaved(`${title} is back in the list.`);
    sayRemoved(`${title} is set aside. A search still finds it.`, () => setAside(false));
  }

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

  const action = (label: string, onClick: () => void) => (
    <button
      type="button"
      className="text-[13px] whitespace-nowrap text-secondary underline hover:text-ink"
      onClick={onClick}
    >
      {label}
      <span className="sr-only"> the study {title}</span>
    </button>
  );
  return (
    <div className="flex flex-row items-end gap-x-3 gap-y-1 px-4 pb-2 md:flex-col md:py-2.5 md:pl-0">
      {action("Rename or tag", () => setOpen("labels"))}
      {action("Copy", () => setOpen("copy"))}
      {action(isAside ? "Bring back" : "Set aside", () => void moveAside())}
      {action("Remove", () => void remove())}
      <Dialog
        title={open === "copy" ? "A study like this one" : "Title and tags of a study"}
        open={open !== null}
        onOpenChange={(next) => !next && setOpen(null)}
      >
        {open === "copy" && <CopyForm study={study} />}
        {open === "labels" && (
          <LabelsForm
            study={study}
            onSaved={() => {
              setOpen(null);
              router.refresh();
            }}
          />
        )}
      </Dialog>
    </div>
  );
}
