"use client";

import { useRef, type ReactNode } from "react";
import { drawnPage } from "./drawn-page";
import type { Caption } from "./framed-svg";
import { OutMenu } from "./out-menu";
import type { Cell } from "./save";
import type { Slide } from "./slide";

/** A picture made of drawings, boxes and words of the page, which can be saved as it stands. */
export function Saveable({
  caption,
  rows,
  foot,
  slide,
  corner = false,
  className = "",
  children,
}: {
  caption: Caption;
  /** Its values, as a table. */
  rows: readonly (readonly Cell[])[];
  /** The same as a picture for a screen. */
  slide?: Slide;
  /** What stands below it, beside the way to save it. */
  foot?: ReactNode;
  /** Whether the way to save it stands in its upper right corner, where it has room there. */
  corner?: boolean;
  /** The look of its frame. */
  className?: string;
  children: ReactNode;
}) {
  const place = useRef<HTMLDivElement>(null);
  const menu = (
    <OutMenu
      caption={caption}
      drawn={() => place.current && drawnPage(place.current)}
      rows={() => rows}
      slide={slide && (() => slide)}
    />
  );
  return (
    <>
      <div className={`${className} relative`}>
        <div ref={place}>{children}</div>
        {corner && <div className="absolute top-2 right-2">{menu}</div>}
      </div>
      {(foot || !corner) && (
        <div className="mt-1.5 flex flex-wrap items-baseline justify-end gap-x-6">
          {foot && <div className="mr-auto">{foot}</div>}
          {!corner && menu}
        </div>
      )}
    </>
  );
}
