"use client";

import { useRef, useState } from "react";
import type { SaidColumn } from "@/core/elsewhere/column";
import type { GridPreview } from "@/core/elsewhere/preview";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { counted } from "@/core/units/counted";
import { Dialog } from "../controls/dialog";
import { Button, Field, Form, Trouble } from "../controls/form";
import { BOX } from "../controls/look";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { ColumnChoice } from "./column-choice";
import { figureWords } from "./figure-words";
import { LadderPreview, ladderSent } from "./ladder-preview";
import { sayTaken, type Taken } from "./taken";

/** Stands for "as it was understood". */
const AS_READ = "";
const OUT = "(out)";

/** Takes in a grid pasted from a spreadsheet, after it was shown what would become of it. */
export function PastedGrid({
  studyId,
  rigs,
  onTaken,
}: {
  studyId: string;
  rigs: readonly Rig[];
  onTaken: (taken: Taken) => void;
}) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [preview, setPreview] = useState<GridPreview | null>(null);
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const [columns, setColumns] = useState<Record<string, SaidColumn | null>>({});
  const [ladder, setLadder] = useState({ rigId: "", common: "" });
  const [trouble, setTrouble] = useState<string | null>(null);
  const latest = useRef(0);

  async function look(next: string, said: typeof columns = {}) {
    setText(next);
    setTrouble(null);
    if (next !== text) setChosen({});
    setColumns(said);
    const asked = ++latest.current;
    if (!next.trim()) return setPreview(null);
    const body = { text: next, columns: said };
    const sent = await send<GridPreview>("PUT", `/api/studies/${studyId}/grid`, body);
    if (asked !== latest.current) return;
    if (!sent.ok) return setTrouble(sent.error.message);
    setPreview(sent.data);
  }

  async function take() {
    const chosenRigs = Object.fromEntries(
      Object.entries(chosen)
        .filter(([, rig]) => rig !== AS_READ)
        .map(([line, rig]) => [line, rig === OUT ? "" : rig]),
    );
    const sent = await send<Taken>("POST", `/api/studies/${studyId}/grid`, {
      text,
      rigs: chosenRigs,
      columns,
      ...(preview?.ladder && ladderSent(preview.ladder, ladder, rigs)),
    });
    if (!sent.ok) return setTrouble(sent.error.message);
    setOpen(false);
    setText("");
    setPreview(null);
    sayTaken(studyId, sent.data, () => onTaken({ measurementIds: [], rigIds: [], partIds: [] }));
    onTaken(sent.data);
  }

  const undecided = preview?.plans.some(
    (plan, i) => plan.kind === "unknown" && !chosen[String(preview.rows[i]!.line)],
  );
  return (
    <>
      <Button onClick={() => setOpen(true)}>Paste a grid</Button>
      <Dialog wide title="A grid from a spreadsheet" open={open} onOpenChange={setOpen}>
        <Form onSend={take}>
          <Field
            label="The grid"
            hint="Rigs in rows, drills in columns, with a line of heads: “Rig”, “Haul read (MB/s)”, “4 KiB, 32 in flight, read, IOPS”. Columns headed “port”, “cable”, “enclosure”, “drive” name the parts of a rig that is to be made. A whole ladder of one rig: “Size”, “Read”, “Write”."
          >
            <textarea
              name="grid"
              rows={5}
              value={text}
              spellCheck={false}
              onChange={(event) => void look(event.target.value)}
              className={`${BOX} figure text-[13px]`}
            />
          </Field>
          {preview && preview.problems.length > 0 && (
            <Trouble>
              {preview.problems.slice(0, 6).map(({ line, column, text: cell, problem }) => (
                <span key={`${line} ${column} ${problem}`} className="block">
                  Line {line}, column {column}: {cell && `“${cell}” `}
                  {problem}.
                </span>
              ))}
              {preview.problems.length > 6 && `and ${preview.problems.length - 6} more.`}
            </Trouble>
          )}
          {preview && preview.rows.length > 0 && (
            <div className="max-h-72 overflow-auto">
              <table className="w-full">
                <caption className="sr-only">What would be imported</caption>
                <thead>
                  <tr>
                    <th className={HEAD}>line</th>
                    <th className={HEAD}>becomes</th>
                    {preview.heads.map((head) => (
                      <th key={head.column} className={`${HEAD_RIGHT} align-bottom`}>
                        <ColumnChoice
                          head={head}
                          said={columns[String(head.column)]}
                          onSay={(said) =>
                            void look(text, { ...columns, [String(head.column)]: said })
                          }
                        />
                        {head.of?.unit.kind === "iops" ? "requests a second" : "MB/s"}
                      </th>
                    ))}
                  </tr>
                </thead>
                <tbody>
                  {preview.rows.map((row, i) => {
                    const plan = preview.plans[i]!;
                    const key = String(row.line);
                    return (
                      <tr key={row.line}>
                        <td className={`${CELL} figure`}>{row.line}</td>
                        <td className={CELL}>
                          <Select
                            label={`What line ${row.line} becomes`}
                            name={`grid-line-${row.line}`}
                            value={chosen[key] ?? AS_READ}
                            options={[
                              { value: AS_READ, text: planWords(plan, row.name) },
                              ...rigs.map((rig, at) => ({
                                value: rig.id,
                                text: `${letterOf(at)} · ${rig.name}`,
                              })),
                              { value: OUT, text: "leave it out" },
                            ]}
                            onChange={(next) => setChosen((was) => ({ ...was, [key]: next }))}
                          />
                          {plan.kind === "make" && <Making plan={plan} />}
                        </td>
                        {preview.heads.map(({ column }) => (
                          <td key={column} className={FIGURE}>
                            {row.cells
                              .filter((cell) => cell.column.column === column)
                              .map(({ figure }) => figureWords(figure))
                              .join()}
                          </td>
                        ))}
                      </tr>
                    );
                  })}
                </tbody>
              </table>
            </div>
          )}
          {preview?.ladder && (
            <LadderPreview
              ladder={preview.ladder}
              rigs={rigs}
              value={ladder}
              onChange={setLadder}
            />
          )}
          {trouble && <Trouble>{trouble}</Trouble>}
          <div className="flex items-center justify-end gap-3">
            {preview && (
              <span className="text-secondary">{counted(figuresIn(preview), "figure")}</span>
            )}
            <Button
              main
              type="submit"
              disabled={!preview || preview.problems.length > 0 || undecided === true}
            >
              Add the figures
            </Button>
          </div>
        </Form>
      </Dialog>
    </>
  );
}

const figuresIn = ({ rows, ladder }: GridPreview): number =>
  rows.reduce((sum, { cells }) => sum + cells.length, 0) +
  (ladder?.rows ?? []).reduce((sum, { figures }) => sum + Object.keys(figures).length, 0);

type Plan = GridPreview["plans"][number];

function planWords(plan: Plan, name: string): string {
  if (plan.kind === "rig") return `rig ${plan.name}`;
  if (plan.kind === "make") return `a new rig, ${plan.name}`;
  return `“${name}”: say which rig`;
}

function Making({ plan }: { plan: Extract<Plan, { kind: "make" }> }) {
  const fresh = plan.parts.filter(({ partId }) => partId === null);
  if (fresh.length === 0) return null;
  return (
    <span className="block text-[13px] text-secondary">
      {fresh.map(({ name }) => name).join(", ")} {fresh.length === 1 ? "is" : "are"} not on the
      shelf: put there with the connectors of {fresh.length === 1 ? "the part" : "the parts"} of the
      same kind in rig A.
    </span>
  );
}
