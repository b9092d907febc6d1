import { Link } from "../controls/link";
import { Suspense, type ReactNode } from "react";
import { TipProvider } from "../controls/tip";
import { Notices } from "../controls/toast";
import { DropRuns } from "./drop-runs";
import { FocusPage } from "./focus-page";
import { Palette, type PaletteStudy } from "./palette";
import { PageMenu } from "./page-menu";
import { StoreNotice, type StoreTroubleShown } from "./store-notice";
import { ThemeSwitch } from "./theme";
import { UnitSwitch } from "./unit";

/** The pages outside studies. */
const PAGES = [
  { href: "/", name: "Studies" },
  { href: "/shelf", name: "Shelf" },
  { href: "/ledger", name: "Link ledger" },
  { href: "/watch", name: "Watch" },
  { href: "/hosts", name: "Hosts" },
  { href: "/archive", name: "Archive" },
  { href: "/backups", name: "Backups" },
];

/** What stands round every page: the name, the ways out of a study, the command palette. */
export function Frame({
  studies,
  trouble,
  children,
}: {
  studies: PaletteStudy[];
  /** That the store cannot be written; null where it can. */
  trouble: StoreTroubleShown | null;
  children: ReactNode;
}) {
  return (
    <TipProvider>
      <div className="relative mx-auto max-w-[1560px] px-4 pb-10 md:px-6">
        <a
          href="#main"
          className="absolute left-2 top-2 z-50 -translate-y-20 bg-ink px-3 py-1 text-paper focus:translate-y-0"
        >
          Skip to the page
        </a>
        <header className="flex h-12 items-center gap-6">
          <Link href="/" className="font-serif text-[26px] leading-none italic">
            Nerrit
          </Link>
          <nav className="ml-auto flex items-center gap-4 md:gap-5" aria-label="Main">
            {PAGES.map(({ href, name }) => (
              <Link key={href} href={href} className="hidden hover:underline md:block">
                {name}
              </Link>
            ))}
            <PageMenu pages={PAGES} />
            <Suspense>
              <Palette studies={studies} />
            </Suspense>
            <Suspense>
              <UnitSwitch />
            </Suspense>
            <ThemeSwitch />
          </nav>
        </header>
        <StoreNotice first={trouble} />
        {/* Below the content there is room for notices: scrolled down, none of it is under them. */}
        <main id="main" tabIndex={-1} className="pb-24 outline-none">
          {children}
        </main>
        <FocusPage />
        <DropRuns />
        <Notices />
      </div>
    </TipProvider>
  );
}
