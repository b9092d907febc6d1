"use client";

import { X } from "lucide-react";
import { Toast } from "radix-ui";
import { useSyncExternalStore } from "react";
import { SHEET } from "./look";

/** Something that has just happened, said at the edge of the page for a while. */
interface Notice {
  id: number;
  text: string;
  /** Whether it did not work. */
  failed: boolean;
  /** Takes it back. @returns what went wrong with that, if anything */
  undo: (() => Promise<string | null>) | null;
}

/** Long enough to read it; and where there is a way back, to reach for that. */
const SHOWN_MS = 5_000;
const WITH_UNDO_MS = 15_000;

let notices: readonly Notice[] = [];
let count = 0;
const watchers = new Set<() => void>();

function set(next: readonly Notice[]): void {
  notices = next;
  for (const watch of watchers) watch();
}

const put = (text: string, failed: boolean, undo: Notice["undo"]) =>
  set([...notices.slice(-3), { id: count++, text, failed, undo }]);
const drop = (id: number) => set(notices.filter((notice) => notice.id !== id));

/** Says that something was stored. */
export const saySaved = (text: string): void => put(text, false, null);
/** Says that something did not work, and that nothing was changed by it. */
export const sayFailed = (text: string): void => put(text, true, null);
/** Says that something was taken away, with a way back. */
export const sayRemoved = (text: string, undo: () => Promise<string | null>): void =>
  put(text, false, undo);

const watch = (changed: () => void) => {
  watchers.add(changed);
  return () => watchers.delete(changed);
};
const NONE: readonly Notice[] = [];

/** The notices of the moment; one of them stands on every page. */
export function Notices() {
  const shown = useSyncExternalStore(
    watch,
    () => notices,
    () => NONE,
  );
  return (
    <Toast.Provider label="Notice" swipeDirection="left">
      {shown.map(({ id, text, failed, undo }) => (
        <Toast.Root
          key={id}
          type={failed ? "foreground" : "background"}
          duration={undo ? WITH_UNDO_MS : SHOWN_MS}
          onOpenChange={(open) => !open && drop(id)}
          className={`flex items-start gap-3 border-l-[3px] px-3 py-2 ${failed ? "border-l-ink" : "border-l-flow"} ${SHEET}`}
        >
          <Toast.Description className="min-w-0 grow [overflow-wrap:anywhere]">
            {failed && "✕ "}
            {text}
          </Toast.Description>
          {undo && (
            <Toast.Action altText="Undo" asChild>
              <button
                type="button"
                className="font-semibold underline"
                onClick={async () => {
                  const wrong = await undo();
                  if (wrong) sayFailed(wrong);
                }}
              >
                Undo
              </button>
            </Toast.Action>
          )}
          <Toast.Close
            aria-label="Close the notice"
            className="p-0.5 text-secondary hover:text-ink"
          >
            <X size={15} aria-hidden />
          </Toast.Close>
        </Toast.Root>
      ))}
      {/* To the left: what acts on a page stands to the right, and must not be covered. */}
      <Toast.Viewport className="fixed bottom-4 left-4 z-[60] flex w-96 max-w-[92vw] flex-col gap-2" />
    </Toast.Provider>
  );
}
