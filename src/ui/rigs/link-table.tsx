import { linksOf, offered, bestMode } from "@/core/chain/link";
import type { Rig } from "@/core/chain/rig";
import { transportOn } from "@/core/chain/stage";
import { account } from "@/core/ledger/account";
import { narrowsOf, nextNarrows, type Narrows } from "@/core/locate/narrows";
import { nameNarrows, list } from "@/core/answer/wording";
import { formatRate } from "@/core/units/number";

const HEAD = "border-b border-line px-2 py-0.5 text-left text-[13px] font-medium text-secondary";
const CELL = "border-b border-line px-2 py-1 align-baseline";

/** Each link of a rig: its negotiated mode, its ceilings, what held it down; and the narrows. */
export function LinkTable({ rig }: { rig: Rig }) {
  const links = linksOf(rig);
  const narrows = { read: narrowsOf(rig, "read"), write: narrowsOf(rig, "write") };
  const next = nextNarrows(rig, "read");
  return (
    <div>
      <table className="w-full text-sm">
        <thead>
          <tr>
            <th className={HEAD}>link</th>
            <th className={HEAD}>negotiated mode</th>
            <th className={`${HEAD} text-right whitespace-nowrap`}>ceiling read / write</th>
            <th className={`${HEAD} text-right whitespace-nowrap`}>attains reading</th>
            <th className={HEAD}>held down by</th>
          </tr>
        </thead>
        <tbody>
          {links.map((link) => {
            const name = `${link.upper.name} → ${link.lower.name}`;
            if (!link.mode) {
              return (
                <tr key={name}>
                  <td className={CELL}>{name}</td>
                  <td className={`${CELL} font-semibold`} colSpan={4} role="alert">
                    ✕ {link.problem}
                  </td>
                </tr>
              );
            }
            const transport = transportOn(rig, link);
            const read = account(link.mode, "read", { transport });
            const write = account(link.mode, "write", { transport });
            const best = bestMode(offered(link).flatMap(([, modes]) => modes));
            const held = best && best.id !== link.mode.id ? link.heldBy : [];
            return (
              <tr key={name}>
                <td className={CELL}>
                  {name}
                  {link.cables.length > 0 && (
                    <span className="text-secondary">
                      {" "}
                      through {list(link.cables.map((cable) => cable.name))}
                    </span>
                  )}
                </td>
                <td className={CELL}>{link.mode.name}</td>
                <td className={`${CELL} figure text-right whitespace-nowrap`}>
                  {formatRate(read.hardCeiling)} / {formatRate(write.hardCeiling)}
                </td>
                <td className={`${CELL} figure text-right whitespace-nowrap`}>
                  {formatRate(read.attainable.low)}–{formatRate(read.attainable.high)}
                </td>
                <td className={CELL}>{list(held.map((part) => part.name)) || "nothing"}</td>
              </tr>
            );
          })}
        </tbody>
      </table>
      {narrows.read && narrows.read.ceiling > 0 && (
        <p className="mt-2">
          Predicted narrows:{" "}
          {nameNarrows(narrows.read).map((segment, i) => (
            <span key={i} className={segment.narrows ? "font-semibold text-narrows" : ""}>
              {segment.text}
            </span>
          ))}
          , <span className="figure">{formatRate(narrows.read.ceiling)}</span> MB/s reading
          {narrows.write && (
            <>
              {" "}
              and <span className="figure">{formatRate(narrows.write.ceiling)}</span> writing
            </>
          )}
          .
          {next &&
            ` Without it the next would be ${plain(next)}, ${formatRate(next.ceiling)} MB/s.`}
        </p>
      )}
    </div>
  );
}

const plain = (narrows: Narrows) =>
  nameNarrows(narrows)
    .map(({ text }) => text)
    .join("");
