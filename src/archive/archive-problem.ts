/** Why an archive cannot be written or read, in words that say what to do. */
export class ArchiveProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = "ArchiveProblem";
  }
}

/** What the system says of a file error, without its own code and path. */
export function inWords(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  const known: Record<string, string> = {
    EACCES: "permission denied",
    EPERM: "permission denied",
    EROFS: "the file system is read-only",
    ENOSPC: "the disk is full",
    ENOENT: "there is no such folder",
    ENOTDIR: "it is a file, or a part of its path is one",
    EEXIST: "it is a file, not a folder",
  };
  if (code && known[code]) return known[code];
  return /no space left/i.test(message) ? "the disk is full" : message;
}
