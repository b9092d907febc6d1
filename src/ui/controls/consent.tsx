"use client";

import { AlertDialog } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./form";
import { SHEET } from "./look";

/** Asks before something is done that somebody might not want. */
export function Consent({
  title,
  children,
  act,
  open,
  onAnswer,
}: {
  title: string;
  /** What would happen. */
  children: ReactNode;
  /** What the button that does it says. */
  act: string;
  open: boolean;
  onAnswer: (yes: boolean) => void;
}) {
  return (
    <AlertDialog.Root open={open} onOpenChange={(next) => !next && onAnswer(false)}>
      <AlertDialog.Portal>
        <AlertDialog.Overlay className="fixed inset-0 z-40 bg-ink/25" />
        <AlertDialog.Content
          className={`fixed top-1/2 left-1/2 z-50 w-[480px] max-w-[94vw] -translate-x-1/2 -translate-y-1/2 space-y-3 p-5 ${SHEET}`}
        >
          <AlertDialog.Title className="font-serif text-xl">{title}</AlertDialog.Title>
          <AlertDialog.Description asChild>
            <div>{children}</div>
          </AlertDialog.Description>
          <div className="flex justify-end gap-3">
            <AlertDialog.Cancel asChild>
              <Button>Cancel</Button>
            </AlertDialog.Cancel>
            <AlertDialog.Action asChild>
              <Button main onClick={() => onAnswer(true)}>
                {act}
              </Button>
            </AlertDialog.Action>
          </div>
        </AlertDialog.Content>
      </AlertDialog.Portal>
    </AlertDialog.Root>
  );
}
