import "@fontsource/newsreader/400.css";
import "@fontsource/newsreader/400-italic.css";
import "@fontsource/barlow-semi-condensed/400.css";
import "@fontsource/barlow-semi-condensed/500.css";
import "@fontsource/barlow-semi-condensed/600.css";
import "@fontsource/ibm-plex-mono/400.css";
import "@fontsource/ibm-plex-mono/600.css";
import "./globals.css";
import type { Metadata } from "next";
import { headers } from "next/headers";
import type { ReactNode } from "react";
import { writing, writingScript } from "@/core/units/writing";
import { services } from "@/services/services";
import { NONCE } from "./nonce";
import { ownModes } from "@/services/shelf/own-modes";
import { studyTitles } from "@/services/studies/studies";
import { Frame } from "@/ui/frame/frame";
import { Queries } from "@/ui/frame/queries";
import { THEME_SCRIPT } from "@/ui/frame/theme";
import { UnitProvider } from "@/ui/frame/unit";
import { unitOfReader } from "./unit";
import { OwnModesProvider } from "@/ui/ledger/own-modes";

export const metadata: Metadata = {
  title: { default: "Nerrit", template: "%s · Nerrit" },
  description: "Measures a drive through different ports, cables and enclosures.",
};

/** Everything shown comes from the database of this moment. */
export const dynamic = "force-dynamic";

export default async function Layout({ children }: { children: ReactNode }) {
  const { store, desk } = services();
  const studies = studyTitles(store);
  const nonce = (await headers()).get(NONCE) ?? undefined;
  return (
    <html lang="en" suppressHydrationWarning>
      <head>
        <script nonce={nonce} dangerouslySetInnerHTML={{ __html: THEME_SCRIPT }} />
        <script nonce={nonce} dangerouslySetInnerHTML={{ __html: writingScript(writing()) }} />
      </head>
      <body>
        <Queries>
          <UnitProvider unit={await unitOfReader()}>
            <OwnModesProvider ids={ownModes(store)}>
              <Frame studies={studies} trouble={desk.keeper.state}>
                {children}
              </Frame>
            </OwnModesProvider>
          </UnitProvider>
        </Queries>
      </body>
    </html>
  );
}
