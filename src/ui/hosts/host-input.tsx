"use client";

import { useId, type ComponentProps } from "react";
import { Input } from "../controls/form";
import { useHosts } from "./use-hosts";

/** The computer that a rig hangs on: typed, or one of the hosts. */
export function HostInput(props: Omit<ComponentProps<typeof Input>, "name" | "list">) {
  const { hosts } = useHosts();
  const id = useId();
  return (
    <>
      <Input name="host" list={id} {...props} />
      <datalist id={id}>
        {hosts.map(({ name }) => (
          <option key={name} value={name} />
        ))}
      </datalist>
    </>
  );
}
