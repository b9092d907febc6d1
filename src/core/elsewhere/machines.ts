/** The desktop systems that the measuring program goes to, and what to type there. */

export type System = "windows" | "macos" | "linux";

export const SYSTEM_NAMES: Record<System, string> = {
  windows: "Windows",
  macos: "macOS",
  linux: "Linux",
};

/** What is different about measuring there, in a sentence. */
export const SYSTEM_NOTES: Record<System, string> = {
  windows:
    "Requests go past the system’s memory (FILE_FLAG_NO_BUFFERING). The program was tried under Wine, and on no machine with Windows.",
  macos:
    "Requests go past the system’s memory (F_NOCACHE). The program is compiled on the Mac itself, and needs Apple’s command line tools. The program was tried on no Mac.",
  linux:
    "Requests go past the system’s memory (O_DIRECT). The program has its library inside, so that it runs on older and smaller systems, too, of this machine’s kind of processor.",
};

/** A place on the drive, as that system names such places. */
export const PLACES: Record<System, string> = {
  windows: "E:\\test",
  macos: "/Volumes/DRIVE",
  linux: "/media/DRIVE",
};

const BUILD_ON_MAC =
  "unzip -o nerrit-measure-macos.zip && cc -O2 -o measure nerrit-measure/*.c nerrit-measure/elsewhere/*.c";

/** A folder of that machine's own, which a copy is made from or to. */
export const OWN_PLACES: Record<System, string> = {
  windows: "C:\\photos",
  macos: "/Users/ME/Pictures",
  linux: "/home/ME/photos",
};

/** Folders there; empty where they are not known yet. */
export interface FoldersThere {
  /** On the drive. */
  target: string;
  /** The other end of a copy. */
  other: { way: "from" | "to"; folder: string } | null;
}

/**
 * The one command to paste, in the folder into which program and order were saved.
 *
 * @param order name of the order's file, without spaces
 */
export function commandFor(system: System, order: string, { target, other }: FoldersThere): string {
  const quoted = (folder: string) => `"${folder.trim().replaceAll('"', "")}"`;
  const second = other ? ` --${other.way} ${quoted(other.folder)}` : "";
  const options = `--order ${order} --target ${quoted(target.trim() || PLACES[system])}${second}`;
  switch (system) {
    case "windows":
      return `.\\nerrit-measure.exe ${options}`;
    case "macos":
      return `${BUILD_ON_MAC} && ./measure ${options}`;
    case "linux":
      return `chmod +x nerrit-measure && ./nerrit-measure ${options}`;
  }
}
