"use client";

import { usePathname, useRouter } from "next/navigation";
import { useTransition } from "react";
import { queryOf, type Question } from "@/core/compare/question";

/** Asks another question by changing a word of this one; the address says it, so that "back" goes back. */
export function useQuestion(question: Question): {
  ask: (change: Partial<Question>) => void;
  href: (change: Partial<Question>) => string;
  asking: boolean;
} {
  const router = useRouter();
  const path = usePathname();
  const [asking, start] = useTransition();
  const href = (change: Partial<Question>) => {
    const query = queryOf({ ...question, ...change });
    return query ? `${path}?${query}` : path;
  };
  return {
    ask: (change) => start(() => router.push(href(change), { scroll: false })),
    href,
    asking,
  };
}
