"use client";

import { useRef, useState } from "react";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { titleOf } from "@/core/drills/drill";
import { isLinesFile, runsOfLines } from "@/core/exchange/lines-file";
import { RunsFile } from "@/core/exchange/runs-file";
import type { Conditions } from "@/core/run/result";
import { counted } from "@/core/units/counted";
import { formatMoment } from "@/core/units/day";
import { plainWords } from "@/core/units/plain-words";
import { Checkbox } from "../controls/checkbox";
import { Button, Field, Form, Trouble } from "../controls/form";
import { Dialog } from "../controls/dialog";
import { Select } from "../controls/select";
import { FollowedLine, useFollowed } from "../controls/followed";
import { send } from "../controls/send";
import { saySaved } from "../controls/toast";
import { useDroppedRuns } from "../elsewhere/dropped-runs";
import { WAYS } from "./form/ways";

/** Takes in runs that were measured elsewhere: which rig each is of is asked, and all come or none. */
export function TakeInRuns({
  studyId,
  rigs,
  measured,
  onTaken,
}: {
  studyId: string;
  rigs: readonly Rig[];
  /** Rigs that have runs, by their ids. */
  measured: readonly string[];
  onTaken: (id: string) => void;
}) {
  const picker = useRef<HTMLInputElement>(null);
  const [file, setFile] = useState<RunsFile | null>(null);
  const [chosen, setChosen] = useState<Record<string, string>>({});
  const [noted, setNoted] = useState(true);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [open, setOpen] = useState(false);
  const [busy, setBusy] = useState(false);
  const followed = useFollowed();

  async function read(picked: File) {
    setFile(null);
    setTrouble(null);
    setOpen(true);
    const found = readRuns(await picked.text());
    if (typeof found === "string") return setTrouble(`${picked.name}: ${found}`);
    setFile(found);
    setChosen(Object.fromEntries(namesIn(found).map((name) => [name, proposed(rigs, name)])));
  }

  useDroppedRuns((file) => void read(file));

  const hosts = file ? newHosts(file, chosen, rigs, measured) : {};

  async function take() {
    setBusy(true);
    const body = { file, rigs: chosen, hosts: noted ? hosts : {} };
    const sent = await followed.follow((more) =>
      send<{ ids: string[] }>("POST", `/api/studies/${studyId}/runs`, body, more),
    );
    setBusy(false);
    if (!sent.ok) return setTrouble(sent.error.message);
    setOpen(false);
    saySaved(`${counted(sent.data.ids.length, "measurement")} imported.`);
    onTaken(sent.data.ids[0]!);
  }

  return (
    <>
      <input
        ref={picker}
        type="file"
        accept=".json,.jsonl,application/json"
        className="hidden"
        aria-label="A file of runs"
        onChange={(event) => {
          const [picked] = event.target.files ?? [];
          if (picked) void read(picked);
          event.target.value = "";
        }}
      />
      <Button disabled={rigs.length === 0} onClick={() => picker.current?.click()}>
        Import runs
      </Button>
      <Dialog title="Runs from a file" open={open} onOpenChange={setOpen}>
        <Form onSend={take}>
          {file && (
            <>
              <p>
                {counted(file.measurements.length, "measurement")}, measured or watched elsewhere,
                with every sample and all conditions. Say which rig of this study each is of.
              </p>
              <ul className="max-h-52 overflow-y-auto text-sm">
                {file.measurements.map((one) => (
                  <li key={one.id} className="border-b border-line py-1 [overflow-wrap:anywhere]">
                    {one.rig}: {titleOf(one.drill)}, {WAYS[one.drill.direction]},{" "}
                    {counted(one.runs.length, "run")} · {one.origin}
                    {one.conditions && ` on ${one.conditions.host}`} · {formatMoment(one.createdAt)}
                    {one.conditions && <Machine {...one.conditions} />}
                  </li>
                ))}
              </ul>
              {namesIn(file).map((name, i) => (
                <Field key={name} label={`“${name}” in the file is`}>
                  <Select
                    name={`rig-of-${i}`}
                    value={chosen[name] ?? ""}
                    options={[
                      { value: "", text: "choose a rig" },
                      ...rigs.map((rig, at) => ({
                        value: rig.id,
                        text: `${letterOf(at)} · ${rig.name}`,
                      })),
                    ]}
                    onChange={(next) => setChosen((was) => ({ ...was, [name]: next }))}
                  />
                </Field>
              ))}
              {Object.keys(hosts).length > 0 && (
                <Checkbox checked={noted} onChange={setNoted}>
                  Note the machine as the rig’s host:{" "}
                  {[...new Set(Object.values(hosts))].join(", ")}
                </Checkbox>
              )}
            </>
          )}
          <FollowedLine followed={followed} />
          {trouble && <Trouble>{trouble}</Trouble>}
          {file && (
            <div className="flex justify-end">
              <Button
                main
                type="submit"
                disabled={busy || namesIn(file).some((name) => !chosen[name])}
              >
                Import the runs
              </Button>
            </div>
          )}
        </Form>
      </Dialog>
    </>
  );
}

/** The rig of that name; the only one where there is no other. */
const proposed = (rigs: readonly Rig[], name: string): string =>
  (rigs.find((rig) => rig.name === name) ?? (rigs.length === 1 ? rigs[0] : undefined))?.id ?? "";

/** The machines that the file tells, for rigs without a host and without runs, by the rig's id. */
function newHosts(
  { measurements }: RunsFile,
  chosen: Record<string, string>,
  rigs: readonly Rig[],
  measured: readonly string[],
): Record<string, string> {
  const bare = rigs.filter(({ id, host }) => host === "" && !measured.includes(id));
  return Object.fromEntries(
    measurements.flatMap(({ rig: name, conditions }) =>
      bare
        .filter(({ id }) => id === chosen[name] && isNamed(conditions))
        .map(({ id }) => [id, conditions!.host.slice(0, 80)]),
    ),
  );
}

/** A machine that has no name is called so by the program. */
const isNamed = (conditions: Conditions | null): boolean =>
  conditions !== null && conditions.host !== "unknown";

/** What the file says of the machine and of the way to the drive: it tells which rig was measured. */
const Machine = ({ kernel, processor, drive, link }: Conditions) => (
  <span className="block text-secondary">
    {[kernel, processor, drive && `drive ${drive}`, link && `attached by ${link}`]
      .filter(Boolean)
      .join(" · ")}
  </span>
);

const namesIn = ({ measurements }: RunsFile): string[] => [
  ...new Set(measurements.map(({ rig }) => rig)),
];

/** A file of runs, or what is wrong with it. */
function readRuns(text: string): RunsFile | string {
  let read: unknown;
  try {
    read = isLinesFile(text) ? runsOfLines(text) : JSON.parse(text);
  } catch (error) {
    if (error instanceof RangeError) return `${error.message}. Nothing was imported.`;
    return "is no JSON, or was cut off; nerrit measure --out writes such files.";
  }
  const parsed = RunsFile.safeParse(read, { error: plainWords });
  if (parsed.success) return parsed.data;
  const [issue] = parsed.error.issues;
  const where = issue!.path
    .map((step) => (typeof step === "number" ? step + 1 : String(step)))
    .join(" ");
  return `${where} ${issue!.message}. Nothing was imported.`.trim();
}
