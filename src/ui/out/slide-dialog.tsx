"use client";

import { useMemo, useState } from "react";
import { Button } from "../controls/form";
import { Dialog } from "../controls/dialog";
import { sayFailed } from "../controls/toast";
import { Toggle } from "../controls/toggle";
import { fontRules } from "./fonts";
import { savedName, pngOf, saveFile } from "./save";
import { coloursOf } from "./slide-colours";
import { GROUNDS, SLIDE, slideSvg, themeOf, type Ground, type Slide } from "./slide";

const FORMATS = {
  "1080": "PNG, 1920 × 1080",
  "2160": "PNG, 3840 × 2160",
  svg: "SVG",
} as const;
type Format = keyof typeof FORMATS;

/** A picture of 16:9 for a video or a talk: shown as it will be, and saved in the form that is chosen. */
export function SlideDialog({
  slide,
  name,
  onClose,
}: {
  slide: Slide;
  /** Of its file, without an ending. */
  name: string;
  onClose: () => void;
}) {
  const [ground, setGround] = useState<Ground>("light");
  const [format, setFormat] = useState<Format>("1080");
  const svg = useMemo(() => slideSvg(slide, ground, coloursOf(themeOf(ground))), [slide, ground]);
  async function save() {
    const whole = svg.replace("</desc>", `</desc><style>${await fontRules(svg)}</style>`);
    const file = `${savedName(name)}-screen`;
    if (format === "svg")
      return saveFile(`${file}.svg`, new Blob([whole], { type: "image/svg+xml" }));
    const png = await pngOf(whole, SLIDE.width, SLIDE.height, format === "2160" ? 2 : 1);
    saveFile(`${file}-${format}.png`, png);
  }
  const choices = <V extends string>(of: Record<V, string>) =>
    Object.entries<string>(of).map(([value, text]) => ({ value: value as V, text }));
  return (
    <Dialog title="Picture for a screen" wide open onOpenChange={(open) => !open && onClose()}>
      <div
        className={`border border-line ${ground === "clear-light" ? "bg-ink" : ""}`}
        data-slide={ground}
        // Our own drawing, all of whose words are escaped.
        dangerouslySetInnerHTML={{ __html: fitted(svg) }}
      />
      <div className="mt-3 flex flex-wrap items-center gap-4">
        <Toggle
          label="Ground"
          value={ground}
          options={choices<Ground>(GROUNDS)}
          onChange={setGround}
        />
        <Toggle
          label="Format"
          value={format}
          options={choices<Format>(FORMATS)}
          onChange={setFormat}
        />
        <Button
          main
          className="ml-auto"
          onClick={() => {
            save().catch((error: unknown) =>
              sayFailed(error instanceof Error ? error.message : String(error)),
            );
          }}
        >
          Save the picture
        </Button>
      </div>
    </Dialog>
  );
}

/** As wide as its place. */
const fitted = (svg: string) => svg.replace(/ width="1920" height="1080"/, ' width="100%"');
