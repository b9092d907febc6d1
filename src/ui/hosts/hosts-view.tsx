"use client";

import { useState } from "react";
import { sayFailed, sayRemoved } from "../controls/toast";
import { MeasureConnected } from "../plugged/measure-connected";
import { useDrives } from "../plugged/use-drives";
import { AddHost } from "./add-host";
import { CheckCard } from "./check-card";
import { HostCard, OwnCard } from "./host-card";
import { NetworkCard } from "./network-card";
import { useHostDrives } from "./use-host-drives";
import { useHostChanges, useHosts, type HostList } from "./use-hosts";

/** The machines that drives can be measured on, each with what it has and what is plugged in. */
export function HostsView({ first, ownName }: { first: HostList; ownName: string }) {
  const { hosts, offered } = useHosts(first);
  const { add, look, remove } = useHostChanges();
  const here = useDrives();
  const there = useHostDrives(
    hosts.flatMap(({ id, measuredBy }) => (measuredBy === "engine" ? [id] : [])),
  );
  const measurable = hosts.flatMap(({ name, measuredBy }) =>
    measuredBy === "engine" ? [name] : [],
  );
  const [path, setPath] = useState<string | null>(null);
  const drives = here && [...here, ...[...there.values()].flatMap((one) => one.drives ?? [])];
  return (
    <>
      <div className="mt-4 mb-3">
        <h1 className="font-serif text-[28px]">Hosts</h1>
        <p className="text-secondary">
          Drives can be measured on this machine, and on every machine that you log into with ssh.
          Nerrit’s measuring program is kept in the cache folder there. Nerrit stores no key and no
          password.
        </p>
      </div>
      <div className="space-y-4">
        <AddHost offered={offered} />
        {hosts.map((host) => (
          <HostCard
            key={host.id}
            host={host}
            drives={host.measuredBy === "engine" ? (there.get(host.id) ?? null) : null}
            network={
              host.measuredBy && (
                <>
                  {host.measuredBy === "engine" && (
                    <NetworkCard
                      hostId={host.id}
                      name={host.name}
                      ownName={ownName}
                      others={measurable.filter((name) => name !== host.name)}
                    />
                  )}
                  <CheckCard id={host.id} name={host.name} />
                </>
              )
            }
            isLooking={look.isPending && look.variables === host.id}
            onLook={() => look.mutate(host.id, { onError: ({ message }) => sayFailed(message) })}
            onRemove={() =>
              remove.mutate(host.id, {
                onError: ({ message }) => sayFailed(message),
                onSuccess: () =>
                  sayRemoved(`${host.name} is removed. Rigs and runs keep its name.`, () =>
                    add.mutateAsync(host.name).then(
                      () => null,
                      (error: Error) => error.message,
                    ),
                  ),
              })
            }
            onMeasure={setPath}
          />
        ))}
        <OwnCard
          name={ownName}
          drives={here}
          check={<CheckCard id="here" name={ownName} />}
          onMeasure={setPath}
        />
      </div>
      <MeasureConnected path={path} drives={drives} onClose={() => setPath(null)} />
    </>
  );
}
