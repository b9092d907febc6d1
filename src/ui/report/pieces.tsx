"use client";

import { unzipSync } from "fflate";
import { useState } from "react";
import { Button, Trouble } from "../controls/form";
import { sayFailed } from "../controls/toast";
import { fontRules } from "../out/fonts";
import { pngOf, saveFile } from "../out/save";

/** One piece of a report, as it stands in its archive. */
interface Piece {
  name: string;
  bytes: Uint8Array<ArrayBuffer>;
}

/** Every picture and table of a report by itself. */
export function Pieces({ archive }: { archive: string }) {
  const [pieces, setPieces] = useState<Piece[] | null>(null);
  const [busy, setBusy] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  const list = async () => {
    setBusy(true);
    try {
      const answer = await fetch(archive);
      if (!answer.ok) throw new Error("Nerrit could not make the report; try it again.");
      const files = unzipSync(new Uint8Array(await answer.arrayBuffer()));
      setPieces(
        Object.entries(files)
          .filter(([name]) => /^(pictures|tables)\//.test(name))
          .map(([name, bytes]) => ({ name, bytes: new Uint8Array(bytes) })),
      );
      setTrouble(null);
    } catch (error) {
      setTrouble((error as Error).message);
    }
    setBusy(false);
  };
  if (!pieces)
    return (
      <>
        <Button onClick={list} disabled={busy}>
          {busy ? "Preparing …" : "Pictures and tables one by one"}
        </Button>
        {trouble && <Trouble>{trouble}</Trouble>}
      </>
    );
  return (
    <ul aria-label="Pictures and tables" className="border-t border-line text-[13px]">
      {pieces.map((piece) => (
        <li key={piece.name} className="flex flex-wrap gap-x-3 border-b border-line py-0.5">
          <span className="min-w-0 flex-1 [overflow-wrap:anywhere]">{shortOf(piece.name)}</span>
          {waysOf(piece).map(([words, save]) => (
            <button
              key={words}
              type="button"
              className="underline"
              aria-label={`${shortOf(piece.name)} as ${words}`}
              onClick={() =>
                void save().catch((error: unknown) =>
                  sayFailed(error instanceof Error ? error.message : String(error)),
                )
              }
            >
              {words}
            </button>
          ))}
        </li>
      ))}
    </ul>
  );
}

const shortOf = (name: string) => name.replace(/^\w+\//, "");

/** How a piece can be saved. */
function waysOf({ name, bytes }: Piece): [string, () => Promise<void>][] {
  const short = shortOf(name);
  const as = (type: string) => new Blob([bytes], { type });
  if (name.endsWith(".csv"))
    return [["CSV", async () => saveFile(short, as("text/csv;charset=utf-8"))]];
  if (!name.endsWith(".svg")) return [["picture", async () => saveFile(short, as("image/*"))]];
  const text = new TextDecoder().decode(bytes);
  const [, width = "0", height = "0"] = /width="(\d+)" height="(\d+)"/.exec(text) ?? [];
  const whole = async () =>
    text.replace("</desc>", `</desc><style>${await fontRules(text)}</style>`);
  const png = async (scale: number) =>
    saveFile(
      short.replace(/\.svg$/, scale > 1 ? `-${scale}x.png` : ".png"),
      await pngOf(await whole(), Number(width), Number(height), scale),
    );
  return [
    ["SVG", async () => saveFile(short, new Blob([await whole()], { type: "image/svg+xml" }))],
    ["PNG", () => png(1)],
    ["PNG of twice the size", () => png(2)],
  ];
}
