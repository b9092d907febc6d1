"use client";

import { useId, type ComponentProps } from "react";
import { Input } from "../controls/form";
import { useHosts } from "./use-hosts";

/** A computer of a rig: typed, or one of the hosts. */
export function HostInput(props: Omit<ComponentProps<typeof Input>, "list">) {
  const { hosts } = useHosts();
  const id = useId();
  return (
    <>
      <Input list={id} {...props} />
      <datalist id={id}>
        {hosts.map(({ name }) => (
          <option key={name} value={name} />
        ))}
      </datalist>
    </>
  );
}
