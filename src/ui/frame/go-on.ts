"use client";

import { usePathname, useRouter } from "next/navigation";

/**
 * Goes on to another page once what was asked for is done; a reader who has gone elsewhere meanwhile stays
 * there.
 */
export function useGoOn(): ReturnType<typeof useRouter>["push"] {
  const router = useRouter();
  const path = usePathname();
  return (href, options) => {
    if (window.location.pathname === path) router.push(href, options);
  };
}
