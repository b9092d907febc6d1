"use client";

import { useQuery } from "@tanstack/react-query";
import { SYSTEM_NAMES, type System } from "@/core/elsewhere/machines";
import { formatSize } from "@/core/units/size";
import { send } from "../controls/send";

/** What the server says of its programs (services/elsewhere/programs.ts). */
interface Programs {
  built: { system: System; file: string; bytes: number; sha256: string }[];
  missing: { system: System; why: string }[];
}

/** Where the program for a system is to be had, with its size and digest; or why there is none. */
export function ProgramLink({ system }: { system: System }) {
  const { data } = useQuery({
    queryKey: ["programs"],
    queryFn: async ({ signal }) => {
      const sent = await send<Programs>("GET", "/api/programs", undefined, { signal });
      return sent.ok ? sent.data : { built: [], missing: [] };
    },
  });
  const found = data?.built.find((one) => one.system === system);
  const why = data?.missing.find((one) => one.system === system)?.why;
  if (!found) {
    return (
      <span>
        {data
          ? `The program for ${SYSTEM_NAMES[system]} was not built here${why ? `: ${why}` : ""}.`
          : "Looking for the program …"}
      </span>
    );
  }
  return (
    <>
      <a className="underline" href={`/api/programs/${system}`} download={found.file}>
        Save the program for {SYSTEM_NAMES[system]}
      </a>
      {system === "macos" && ", as its source"}: {found.file}, {formatSize(found.bytes, 1000)}
      <span className="block font-mono text-xs text-secondary [overflow-wrap:anywhere]">
        SHA-256 {found.sha256}
      </span>
    </>
  );
}
