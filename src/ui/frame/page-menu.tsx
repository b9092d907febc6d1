"use client";

import { Menu } from "lucide-react";
import { Link } from "../controls/link";
import { DropdownMenu } from "radix-ui";

/** The pages outside studies, in a menu: for narrow screens. */
export function PageMenu({ pages }: { pages: readonly { href: string; name: string }[] }) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger aria-label="Pages" className="md:hidden">
        <Menu size={20} aria-hidden />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content
          align="end"
          sideOffset={6}
          className="z-40 border border-line bg-sheet p-1 shadow-lg"
        >
          {pages.map(({ href, name }) => (
            <DropdownMenu.Item key={href} asChild>
              <Link href={href} className="block px-4 py-2 outline-none data-highlighted:bg-bank">
                {name}
              </Link>
            </DropdownMenu.Item>
          ))}
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}
