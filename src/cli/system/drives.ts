import type { Command } from "commander";
import { thisMachine } from "@/services/hosts/machines";
import { drivesNow } from "@/services/plugged/plugged";
import { driveMarks, type SeenDrive } from "@/core/system/drive";
import { linkName } from "@/core/system/system-words";
import { formatSize } from "@/core/units/size";
import { printJson } from "../exit";
import { drivesOn, hostNamed, ON, readyOn } from "../on-host";
import { wrapped } from "../lines";

/** `nerrit drives`: what is plugged in, and what to call it when measuring. */
export function addDrives(program: Command): void {
  program
    .command("drives")
    .description("list the drives that the system has, and where each can be measured")
    .option("--root <directory>", "read the kernel's tree (sys, proc) below this directory")
    .option("--on <host>", ON)
    .option("--json", "print one JSON document")
    .action(async ({ root, on, json }: { root?: string; on?: string; json?: boolean }) => {
      const drives =
        on === undefined
          ? await drivesNow(thisMachine(root))
          : await drivesOn(await readyOn(hostNamed(on)));
      if (json) printJson({ drives });
      else process.stdout.write(`${drives.flatMap(linesOf).join("\n") || "no drives"}\n`);
    });
}

function linesOf(drive: SeenDrive): string[] {
  const { name, maker, serial, bytes, link, hangsOn, places } = drive;
  const head = [
    maker && !name.startsWith(maker) ? `${name}, ${maker}` : name,
    ...(bytes === null ? [] : [formatSize(bytes, 1000)]),
    ...(link ? [linkName(link)] : []),
    ...driveMarks(drive),
  ];
  const way = hangsOn ? [`on ${hangsOn}`] : [];
  const where = places.map(({ device, point, fileSystem }) =>
    point ? `${point} (${fileSystem} on ${device})` : device,
  );
  return [
    ...wrapped(head.join(" · ")),
    ...[...(serial ? [`serial ${serial}`] : []), ...way].flatMap((text) => wrapped(text, 2)),
    ...where.flatMap((text) => wrapped(text, 2)),
  ];
}
