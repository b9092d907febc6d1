"use client";

import { useRef, useState } from "react";
import type { GridPreview } from "@/core/elsewhere/preview";
import { letterOf } from "@/core/answer/study";
import type { Rig } from "@/core/chain/rig";
import { drillNamed } from "@/core/drills/catalogue";
import { counted } from "@/core/units/counted";
import { formatNumber, formatRate } from "@/core/units/number";
import { Dialog } from "../controls/dialog";
import { Button, Field, Form, Trouble } from "../controls/form";
import { BOX } from "../controls/look";
import { Select } from "../controls/select";
import { send } from "../controls/send";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { WAYS } from "../measure/ways";
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
  const [trouble, setTrouble] = useState<string | null>(null);
  const latest = useRef(0);

  async function look(next: string) {
    setText(next);
    setTrouble(null);
    setChosen({});
    const asked = ++latest.current;
    if (!next.trim()) return setPreview(null);
    const sent = await send<GridPreview>("PUT", `/api/studies/${studyId}/grid`, { text: next });
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
            hint="Rigs in rows, drills in columns, with a line of heads: “Rig”, “Haul read (MB/s)”, “Scatter write, IOPS”. Columns headed “port”, “cable”, “enclosure”, “drive” name the parts of a rig that is to be made."
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
                <caption className="sr-only">What would be taken in</caption>
                <thead>
                  <tr>
                    <th className={HEAD}>line</th>
                    <th className={HEAD}>becomes</th>
                    {preview.columns.map(({ column, drill, direction, unit }) => (
                      <th key={column} className={HEAD_RIGHT}>
                        {drillNamed(drill).title}, {WAYS[direction]},{" "}
                        {unit.kind === "iops" ? "requests a second" : "MB/s"}
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
                        {preview.columns.map(({ column }) => (
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
          {trouble && <Trouble>{trouble}</Trouble>}
          <div className="flex items-center justify-end gap-3">
            {preview && (
              <span className="text-secondary">
                {counted(
                  preview.rows.reduce((sum, { cells }) => sum + cells.length, 0),
                  "figure",
                )}
              </span>
            )}
            <Button
              main
              type="submit"
              disabled={!preview || preview.problems.length > 0 || undecided === true}
            >
              Take them in
            </Button>
          </div>
        </Form>
      </Dialog>
    </>
  );
}

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

function figureWords(figure: GridPreview["rows"][number]["cells"][number]["figure"]): string {
  if (figure.kind === "iops") return formatNumber(figure.iops);
  return formatRate(figure.kind === "rate" ? figure.mbps : figure.bytes / 1e6 / figure.seconds);
}
