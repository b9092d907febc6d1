"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import type { RigToWatch } from "@/core/watch/rig";
import { countedOnHost } from "@/core/host/counted";
import { bareSerial } from "@/core/system/detected";
import type { Mark } from "@/core/watch/tally";
import { Combobox, type Choices } from "../controls/combobox";
import { Button, Input, Trouble } from "../controls/form";
import { Select } from "../controls/select";
import { useKey } from "../controls/use-key";
import { driveHint, driveTitle } from "../plugged/drive-words";
import { useCounted, type HostCounted } from "../hosts/use-counted";
import { useDrives } from "../plugged/use-drives";
import type { StudyTitle } from "../demands/make-demand";
import { HostLoads } from "./host-loads";
import { KeepWatched } from "./keep-watched";
import { RecordWork } from "./record-work";
import { Stretches } from "./stretches";
import { USUAL_PER_SECOND } from "./usual";
import { useWatch } from "./use-watch";
import { WatchOverview, type Listed } from "./watch-overview";
import { WatchedSource } from "./watched-source";

/** The kernel's counters are kept no finer than ten times a second. */
const PER_SECOND = [1, 2, 5, 10];
const START: Mark = { ms: 0, name: "start" };

/** What can be watched on other hosts, a group each. */
const hostGroups = (hosts: readonly HostCounted[], watched: readonly string[]): Choices[] =>
  hosts.flatMap(({ host, counted }) =>
    counted === null
      ? []
      : [
          {
            heading: host,
            items: counted
              .map(({ name, kind }) => ({
                id: `${host}:${name}`,
                text: `${host}:${name}`,
                hint: kind === "device" ? "drive" : "network interface",
              }))
              .filter(({ id }) => !watched.includes(id)),
          },
        ],
  );

/** Watches drives and interfaces while other programs use them: rates now, bytes, and marks between. */
export function WatchView({
  names,
  interfaces,
  rigs,
  studies,
  chosen,
  perSecond,
}: {
  names: readonly string[];
  interfaces: readonly string[];
  rigs: readonly RigToWatch[];
  studies: readonly StudyTitle[];
  /** The rig that a drive stands in, by the drive's name, where the tester has said so. */
  chosen: Readonly<Record<string, string>>;
  /** Looks a second. */
  perSecond: number;
}) {
  const router = useRouter();
  const drives = useDrives();
  const counted = useCounted();
  const { watching, trouble } = useWatch(names, perSecond);
  const [marks, setMarks] = useState<Mark[]>([START]);
  const [naming, setNaming] = useState("");
  const show = (next: readonly string[], of = chosen, often = perSecond) =>
    router.push(
      `/watch?${new URLSearchParams([
        ...next.map((name) => ["name", name]),
        ...next.flatMap((name) => (of[name] === undefined ? [] : [[`rig.${name}`, of[name]]])),
        ...(often === USUAL_PER_SECOND ? [] : [["often", String(often)]]),
      ])}`,
      { scroll: false },
    );
  /** As the tester says, else the only one whose drive or box is plugged in there. */
  const rigOf = (name: string): string => {
    if (chosen[name] !== undefined) return chosen[name];
    const drive = drives?.find(({ id }) => id === name);
    const seen = new Set(drive?.serials.map(bareSerial));
    const found = rigs.filter(({ serials }) => serials.some((serial) => seen.has(serial)));
    return found.length === 1 ? found[0]!.id : "";
  };
  const mark = () => {
    if (!watching) return;
    setMarks((was) => [...was, { ms: watching.ms, name: naming.trim() || `mark ${was.length}` }]);
    setNaming("");
  };
  useKey("m", mark);
  const listed: Listed[] = [
    ...(drives ?? [])
      .filter(({ kind }) => kind !== "share")
      .map((drive) => ({
        name: drive.id,
        title: `${driveTitle(drive)} (${drive.id})`,
        hint: driveHint(drive),
      })),
    ...interfaces.map((name) => ({ name, title: name, hint: "network interface" })),
  ];

  return (
    <>
      <div className="mt-4 mb-3 flex flex-wrap items-center gap-3">
        <h1 className="mr-auto font-serif text-[28px]">Watch</h1>
        {names.length > 0 && (
          <Select
            label="Looks a second"
            name="often"
            className="!w-40"
            value={String(perSecond)}
            options={PER_SECOND.map((often) => ({
              value: String(often),
              text: often === 1 ? "once a second" : `${often} times a second`,
            }))}
            onChange={(next) => next && show(names, chosen, Number(next))}
          />
        )}
        <Combobox
          label="Watch a drive or an interface"
          name="watch"
          className="!w-72"
          shown={names.length === 0 ? "Pick what to watch" : "Watch one more"}
          groups={[
            {
              heading: "drives and network interfaces",
              items: listed
                .filter(({ name }) => !names.includes(name))
                .map(({ name, title, hint }) => ({ id: name, text: title, hint })),
            },
            ...hostGroups(counted, names),
          ]}
          onPick={(name) => show([...names, name])}
        />
      </div>
      {names.length === 0 ? (
        drives && <WatchOverview listed={listed} onPick={(name) => show([name])} />
      ) : (
        <div className="space-y-4">
          {trouble && <Trouble>{trouble}</Trouble>}
          <HostLoads hosts={watching?.hosts ?? []} />
          <div
            className={`grid grid-cols-[minmax(0,1fr)] gap-4 ${names.length > 1 ? "lg:grid-cols-2" : ""}`}
          >
            {names.map((name, i) => (
              <WatchedSource
                key={name}
                name={name}
                at={i}
                watching={watching}
                rigs={rigs}
                rigId={rigOf(name)}
                onRig={(id) => show(names, { ...chosen, [name]: id })}
                onLeave={() => show(names.filter((other) => other !== name))}
              >
                {countedOnHost(name) ? (
                  <>
                    <p className="flex-1 text-secondary">
                      What another host counts is shown, and is not kept as a run.
                    </p>
                    {isDriveOfHost(counted, name) && <RecordWork name={name} studies={studies} />}
                  </>
                ) : (
                  <>
                    <KeepWatched
                      name={name}
                      tally={watching?.tallies[i]}
                      now={watching?.ms ?? 0}
                      marks={marks}
                      rigs={rigs}
                      rigId={rigOf(name)}
                    />
                    {!interfaces.includes(name) && <RecordWork name={name} studies={studies} />}
                  </>
                )}
              </WatchedSource>
            ))}
          </div>
          <section className="border border-line bg-sheet p-4">
            <form
              className="mb-2 flex items-center gap-2"
              onSubmit={(event) => {
                event.preventDefault();
                mark();
              }}
            >
              <h2 className="mr-auto font-semibold">Between marks</h2>
              <Input
                name="mark"
                aria-label="Name of the next mark"
                placeholder="copy starts"
                className="!w-64"
                value={naming}
                onChange={(event) => setNaming(event.target.value)}
              />
              <Button main type="submit" disabled={!watching}>
                Set a mark (M)
              </Button>
            </form>
            {watching && <Stretches names={names} marks={marks} watching={watching} />}
          </section>
        </div>
      )}
    </>
  );
}

/** Whether a name is a drive's of a host: what reaches it can be recorded there. */
const isDriveOfHost = (all: readonly HostCounted[], name: string): boolean =>
  all.some(({ host, counted }) =>
    counted?.some((one) => one.kind === "device" && `${host}:${one.name}` === name),
  );
