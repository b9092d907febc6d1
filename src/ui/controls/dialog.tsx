"use client";

import { X } from "lucide-react";
import { Dialog as Primitive } from "radix-ui";
import { useRef, type ReactNode } from "react";

/** A sheet over the page; Escape and the cross close it. */
export function Dialog({
  title,
  wide = false,
  open,
  onOpenChange,
  children,
}: {
  title: string;
  /** For forms with tables in them. */
  wide?: boolean;
  open: boolean;
  onOpenChange: (open: boolean) => void;
  children: ReactNode;
}) {
  // It has no trigger of its own: what had the focus when it opened has it again when it is closed.
  const opener = useRef<HTMLElement | null>(null);
  return (
    <Primitive.Root open={open} onOpenChange={onOpenChange}>
      <Primitive.Portal>
        <Primitive.Overlay className="fixed inset-0 z-30 bg-ink/25" />
        <Primitive.Content
          aria-describedby={undefined}
          onOpenAutoFocus={() => {
            opener.current = document.activeElement as HTMLElement | null;
          }}
          onCloseAutoFocus={(event) => {
            event.preventDefault();
            const from = opener.current;
            const back = from?.isConnected && from !== document.body ? from : null;
            (back ?? document.getElementById("main"))?.focus({ preventScroll: true });
          }}
          className={`fixed left-1/2 top-1/2 z-40 max-h-[94vh] ${wide ? "w-[1000px]" : "w-[760px]"} max-w-[96vw] -translate-x-1/2 -translate-y-1/2 overflow-y-auto border border-line bg-sheet p-5 shadow-xl`}
        >
          <div className="mb-3 flex items-start justify-between">
            <Primitive.Title className="font-serif text-2xl">{title}</Primitive.Title>
            <Primitive.Close aria-label="Close" className="p-1 text-secondary hover:text-ink">
              <X size={18} aria-hidden />
            </Primitive.Close>
          </div>
          {children}
        </Primitive.Content>
      </Primitive.Portal>
    </Primitive.Root>
  );
}
