import { list } from "@/core/chain/wording";
import {
  besideLinks,
  bestMode,
  isSlower,
  linkAccount,
  linksOf,
  offered,
  otherLinks,
  type Link,
} from "@/core/chain/link";
import type { Rig } from "@/core/chain/rig";
import { modeOf } from "@/core/ledger/catalogue";
import { Select } from "../controls/select";
import { useRates } from "../frame/unit";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";

/** Each link of a rig: the mode it runs at, its ceilings, and what held it down. */
export function LinkTable({
  rig,
  onMode,
}: {
  rig: Rig;
  /** Declares the mode a link runs at, by the part at its lower end; null: as negotiated. */
  onMode?: (partId: string, mode: string | null) => void;
}) {
  const { unit } = useRates();
  const rows = [
    ...linksOf(rig).map((link) => ({ where: "", link })),
    ...besideLinks(rig).map((link) => ({ where: "also: ", link })),
    ...otherLinks(rig).map((link) => ({ where: "other end: ", link })),
  ];
  if (rows.length === 0) return null;
  return (
    <table className="w-full text-sm">
      <thead>
        <tr>
          <th className={HEAD}>link</th>
          <th className={HEAD}>mode</th>
          <th className={`${HEAD_RIGHT} whitespace-nowrap`}>ceiling read / write, {unit}</th>
          <th className={`${HEAD_RIGHT} whitespace-nowrap`}>good hardware, reading</th>
          <th className={HEAD}>reduced by</th>
        </tr>
      </thead>
      <tbody>
        {rows.map(({ where, link }) => (
          <tr key={`${where}${link.upper.id} ${link.lower.id}`}>
            <td className={CELL}>
              <span className="text-secondary">{where}</span>
              {link.upper.name} → {link.lower.name}
              {link.cables.length > 0 && (
                <span className="text-secondary">
                  {" "}
                  through {list(link.cables.map((cable) => cable.name))}
                </span>
              )}
            </td>
            <Mode link={link} onMode={onMode} />
            <Figures rig={rig} link={link} />
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Mode({
  link,
  onMode,
}: {
  link: Link;
  onMode?: (id: string, mode: string | null) => void;
}) {
  const { mode, negotiated, settledBy, lower } = link;
  if (onMode) {
    const offers = [...new Set(offered(link).flatMap(([, modes]) => modes))].map(modeOf);
    return (
      <td className={CELL}>
        <Select
          label={`Mode of the link to ${lower.name}`}
          name={`mode-${lower.name}`}
          className="!w-auto !py-0.5"
          value={settledBy && mode ? mode.id : ""}
          options={[
            {
              value: "",
              text: negotiated ? `${negotiated.name}, as negotiated` : "as negotiated: none",
            },
            ...(settledBy && mode && !offers.some(({ id }) => id === mode.id)
              ? [{ value: mode.id, text: mode.name }]
              : []),
            ...offers.map(({ id, name }) => ({ value: id, text: `${name}, declared` })),
          ]}
          onChange={(next) => onMode(lower.id, next || null)}
        />
      </td>
    );
  }
  if (!mode) return <td className={CELL}>none</td>;
  const below = negotiated && isSlower(mode, negotiated);
  return (
    <td className={CELL}>
      {mode.name}
      {settledBy && (
        <span className="block text-[13px]">
          {settledBy === "system" ? "the system says so" : "declared"}
          {below && <b>; its parts could run {negotiated.short}</b>}
        </span>
      )}
    </td>
  );
}

function Figures({ rig, link }: { rig: Rig; link: Link }) {
  const { rate } = useRates();
  const { mode, held, problem } = link;
  if (!mode) {
    return (
      <td className={`${CELL} font-semibold`} colSpan={3} role="alert">
        ✕ {problem}
      </td>
    );
  }
  const read = linkAccount(rig, link, mode, "read");
  const write = linkAccount(rig, link, mode, "write");
  const best = bestMode(offered(link).flatMap(([, modes]) => modes));
  const holding = best && best.id !== mode.id ? link.heldBy.map(({ name }) => name) : [];
  const reasons = [
    ...(link.settledBy && holding.length > 1 ? [`one of ${list(holding)}`] : holding),
    ...held.map(({ what }) => what),
  ];
  return (
    <>
      <td className={FIGURE}>
        {rate(read.hardCeiling)} / {rate(write.hardCeiling)}
      </td>
      <td className={FIGURE}>
        {rate(read.attainable.low)}–{rate(read.attainable.high)}
      </td>
      <td className={CELL}>
        {reasons.length > 0 ? list(reasons) : "nothing"}
        {mode.duplex === "half" && (
          <span className="text-[13px] text-secondary"> · one direction at a time</span>
        )}
      </td>
    </>
  );
}
