import { pathsOf, type SeenDrive } from "@/core/system/drive";
import { Button } from "../controls/form";
import { driveHint, driveTitle } from "./drive-words";

/** Drives that are connected, each to be measured. */
export function DriveList({
  drives,
  onMeasure,
}: {
  drives: readonly SeenDrive[];
  /** Told the best path of the drive. */
  onMeasure: (path: string) => void;
}) {
  const there = drives.flatMap((drive) => {
    const [path] = pathsOf(drive);
    return path ? [{ drive, path }] : [];
  });
  if (there.length === 0)
    return (
      <p className="py-1 text-secondary">
        The system lists no drive. Connect the drive, and it appears here.
      </p>
    );
  return (
    <ul className="divide-y divide-line">
      {there.map(({ drive, path }) => (
        <li
          key={drive.id}
          data-drive={drive.id}
          className="flex flex-wrap items-center gap-x-4 gap-y-1 py-2"
        >
          <span className="min-w-0 grow basis-64 [overflow-wrap:anywhere]">
            <span className="block font-medium">{driveTitle(drive)}</span>
            <span className="block text-sm text-secondary">
              {[path, driveHint(drive)].filter(Boolean).join(" · ")}
            </span>
          </span>
          <Button onClick={() => onMeasure(path)}>Measure this drive</Button>
        </li>
      ))}
    </ul>
  );
}
