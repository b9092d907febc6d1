import NextLink from "next/link";
import type { ComponentProps } from "react";

/**
 * A link to a page of Nerrit, which is asked for when it is followed. Left to itself the framework asks
 * for every page that a link in view leads to: ten and more for each page that is opened, each of them
 * worked out by the very machine that may be measuring.
 */
export function Link(props: ComponentProps<typeof NextLink>) {
  return <NextLink prefetch={false} {...props} />;
}
