"use client";

import { Link } from "../controls/link";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { pathsOf, type SeenDrive } from "@/core/system/drive";
import { rigsOf } from "@/core/system/plugged-rig";
import { counted } from "@/core/units/counted";
import { Fold } from "../controls/fold";
import { Button } from "../controls/form";
import { useHosts } from "../hosts/use-hosts";
import { driveHint, driveTitle } from "./drive-words";

/** What is plugged in now: which rig of the study each drive belongs to, or a rig to be made of it. */
export function PluggedList({
  drives,
  rigs,
  studyId,
  open,
  onMake,
}: {
  drives: readonly SeenDrive[] | null;
  rigs: readonly Rig[];
  studyId: string;
  /** Whether it begins unfolded. */
  open: boolean;
  onMake: (path: string) => void;
}) {
  const { hosts } = useHosts();
  const names = hosts.map(({ name }) => name);
  if (drives === null) return null;
  return (
    <section className="mb-3 border border-line bg-sheet px-4 py-2">
      <Fold
        open={open}
        summary={
          <span className="font-semibold">
            Plugged in now: {drives.length === 0 ? "no drive" : counted(drives.length, "drive")}
          </span>
        }
      >
        <ul className="divide-y divide-line">
          {drives.map((drive) => {
            const [path] = pathsOf(drive);
            const found = rigsOf(drive, rigs, names);
            return (
              <li key={drive.id} className="flex items-center gap-4 py-2" data-drive={drive.id}>
                <span className="min-w-0 grow [overflow-wrap:anywhere]">
                  <span className="font-medium">{driveTitle(drive)}</span>
                  <span className="block text-sm text-secondary">
                    {[path, driveHint(drive)].filter(Boolean).join(" · ")}
                  </span>
                </span>
                {found.length > 0 && path && (
                  <Known found={found} rigs={rigs} studyId={studyId} path={path} />
                )}
                {path && (
                  <Button className="shrink-0" onClick={() => onMake(path)}>
                    {found.length > 0 ? "Make another rig of it" : "Make a rig of it"}
                  </Button>
                )}
              </li>
            );
          })}
        </ul>
      </Fold>
    </section>
  );
}

/** The rigs that a drive is known to belong to, each a way to measure it. */
function Known({
  found,
  rigs,
  studyId,
  path,
}: {
  found: ReturnType<typeof rigsOf>;
  rigs: readonly Rig[];
  studyId: string;
  path: string;
}) {
  return (
    <span className="shrink-0 text-right text-sm">
      {found.length === 1 && found[0]!.sure ? "this is " : "this may be "}
      {found.map(({ rig }, i) => (
        <span key={rig.id}>
          {i > 0 && " or "}
          <Link
            className="underline"
            href={`/studies/${studyId}/measure?${new URLSearchParams({ rig: rig.id, target: path })}`}
          >
            {letterOf(rigs.indexOf(rig))}
          </Link>
        </span>
      ))}
      {found.length > 1 && <span className="block text-secondary">cables are not seen</span>}
    </span>
  );
}
