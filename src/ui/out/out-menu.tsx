"use client";

import { Download } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { ITEM, SHEET } from "../controls/look";
import { sayFailed, saySaved } from "../controls/toast";
import type { Drawn, Out } from "./drawn";
import { fontRules } from "./fonts";
import { framedSvg } from "./framed-svg";
import type { Slide } from "./slide";
import { SlideDialog } from "./slide-dialog";
import { copyText, csvOf, savedName, pngOf, saveFile, tabbed } from "./save";

/** Takes a picture or a table out of the program: as PNG, SVG, CSV, or to the clipboard. */
export function OutMenu({
  caption,
  drawn,
  rows,
  slide,
}: Out & {
  /** The same as a picture for a screen; left out where there is none. */
  slide?: () => Slide;
  /** The picture; left out where there is only a table. */
  drawn?: () => Drawn | null;
}) {
  const name = () => savedName(caption.title);
  const [shown, setShown] = useState<Slide | null>(null);
  const framed = async () => {
    const picture = drawn?.();
    if (!picture) throw new Error("There is nothing drawn yet.");
    const whole = framedSvg(picture.svg, picture.width, picture.height, caption);
    const fonts = await fontRules(whole.svg);
    return { ...whole, svg: whole.svg.replace("</desc>", `</desc><style>${fonts}</style>`) };
  };
  const png = async (scale: number) => {
    const { svg, width, height } = await framed();
    saveFile(
      `${name()}${scale > 1 ? `-${scale}x` : ""}.png`,
      await pngOf(svg, width, height, scale),
    );
  };
  const actions: [string, () => unknown][] = [
    ...(drawn
      ? ([
          ["Picture, PNG", () => png(1)],
          ["Picture, PNG of twice the size", () => png(2)],
          [
            "Picture, SVG",
            async () =>
              saveFile(
                `${name()}.svg`,
                new Blob([(await framed()).svg], { type: "image/svg+xml" }),
              ),
          ],
        ] as [string, () => unknown][])
      : []),
    ...(slide
      ? ([["Picture for a screen, 16:9 …", () => setShown(slide())]] as [string, () => unknown][])
      : []),
    [
      "Values, CSV",
      () =>
        saveFile(`${name()}.csv`, new Blob([csvOf(rows())], { type: "text/csv;charset=utf-8" })),
    ],
    [
      "Values to the clipboard",
      async () => {
        await copyText(tabbed(rows()));
        saySaved("The table is on the clipboard, for a spreadsheet.");
      },
    ],
  ];
  return (
    <>
      {shown && <SlideDialog slide={shown} name={caption.title} onClose={() => setShown(null)} />}
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label={`Save: ${caption.title}`}
          className="inline-flex items-center gap-1.5 rounded-sm px-1.5 text-sm text-secondary hover:text-ink hover:underline"
        >
          <Download size={13} aria-hidden />
          Save
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content align="end" sideOffset={4} className={`z-40 min-w-52 p-1 ${SHEET}`}>
            {actions.map(([words, act]) => (
              <DropdownMenu.Item
                key={words}
                className={ITEM}
                onSelect={() => {
                  Promise.resolve()
                    .then(act)
                    .catch((error: unknown) =>
                      sayFailed(error instanceof Error ? error.message : String(error)),
                    );
                }}
              >
                {words}
              </DropdownMenu.Item>
            ))}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
    </>
  );
}
