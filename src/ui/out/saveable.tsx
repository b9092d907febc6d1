"use client";

import { useRef, type ReactNode } from "react";
import { drawnPage } from "./drawn-page";
import type { Caption } from "./framed-svg";
import { OutMenu } from "./out-menu";
import type { Cell } from "./save";

/** A picture made of drawings, boxes and words of the page, which can be saved as it stands. */
export function Saveable({
  caption,
  rows,
  foot,
  className,
  children,
}: {
  caption: Caption;
  /** Its values, as a table. */
  rows: readonly (readonly Cell[])[];
  /** What stands below it, beside the way to save it. */
  foot?: ReactNode;
  /** The look of its frame. */
  className?: string;
  children: ReactNode;
}) {
  const place = useRef<HTMLDivElement>(null);
  return (
    <>
      <div className={className}>
        <div ref={place}>{children}</div>
      </div>
      <div className="mt-1.5 flex flex-wrap items-baseline justify-end gap-x-6">
        {foot && <div className="mr-auto">{foot}</div>}
        <OutMenu
          caption={caption}
          drawn={() => place.current && drawnPage(place.current)}
          rows={() => rows}
        />
      </div>
    </>
  );
}
