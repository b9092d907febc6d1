"use client";

import { createContext, useContext, useId, type ComponentProps, type ReactNode } from "react";
import { BOX } from "./look";

const FieldLabel = createContext<string | undefined>(undefined);

/** The label of the field that a control stands in, by its id. */
export const useFieldLabel = () => useContext(FieldLabel);

/** A labelled control with its hint, and what is wrong with it where something is. */
export function Field({
  label,
  hint,
  error,
  className,
  children,
}: {
  label: string;
  hint?: ReactNode;
  error?: string;
  className?: string;
  children: ReactNode;
}) {
  const id = useId();
  return (
    <label className={`block ${className ?? ""}`}>
      <span id={id} className="block text-sm font-medium">
        {label}
      </span>
      <FieldLabel value={id}>{children}</FieldLabel>
      {error ? (
        <span className="block text-sm font-semibold" role="alert">
          ✕ {error}
        </span>
      ) : (
        hint && <span className="block text-[13px] text-secondary">{hint}</span>
      )}
    </label>
  );
}

/** A form that is checked and sent by its own code; Enter sends it. */
export function Form({
  onSend,
  className = "space-y-3",
  ...props
}: Omit<ComponentProps<"form">, "onSubmit"> & { onSend: () => unknown }) {
  return (
    <form
      noValidate
      className={className}
      onSubmit={(event) => {
        event.preventDefault();
        // A form in a dialog over another form is sent alone.
        event.stopPropagation();
        void onSend();
      }}
      {...props}
    />
  );
}

export function Input({ className, ...props }: ComponentProps<"input">) {
  return <input className={`${BOX} ${className ?? ""}`} autoComplete="off" {...props} />;
}

/**
 * The main action of a page is dark; all others are outlined. One that cannot be pressed now keeps the focus,
 * and the tip that says why: it is marked, not taken out of the page's order.
 */
export function Button({
  main,
  className,
  disabled = false,
  onClick,
  ...props
}: ComponentProps<"button"> & { main?: boolean }) {
  const look = main
    ? "bg-ink text-paper hover:opacity-90"
    : "border border-line bg-sheet hover:border-secondary";
  return (
    <button
      type="button"
      className={`rounded-sm px-3 py-1 font-semibold aria-disabled:opacity-50 ${look} ${className ?? ""}`}
      aria-disabled={disabled || undefined}
      onClick={(event) => {
        // A form is sent by a press of its button, whether that was pressed or Enter in a field.
        if (disabled) event.preventDefault();
        else onClick?.(event);
      }}
      {...props}
    />
  );
}

/** Something went wrong: what, and where it can be said, what to do. */
export function Trouble({ children }: { children: ReactNode }) {
  return (
    <p role="alert" className="border-l-[3px] border-ink bg-bank px-3 py-2 font-medium">
      {children}
    </p>
  );
}
