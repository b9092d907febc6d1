"use client";

import { usePathname, useRouter, useSearchParams } from "next/navigation";
import { Toggle } from "../controls/toggle";

/** In which order the rigs stand in the drawing. */
export function OrderChoice({ value }: { value: "cause" | "rate" | "letter" }) {
  const router = useRouter();
  const path = usePathname();
  const query = useSearchParams();
  return (
    <Toggle
      label="Order of the rigs"
      value={value}
      options={[
        { value: "cause", text: "by cause" },
        { value: "rate", text: "by rate" },
        { value: "letter", text: "by letter" },
      ]}
      onChange={(order) => {
        const next = new URLSearchParams(query);
        next.set("order", order);
        router.replace(`${path}?${next}`, { scroll: false });
      }}
    />
  );
}
