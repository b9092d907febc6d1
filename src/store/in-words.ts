const KNOWN: Readonly<Record<string, string>> = {
  EACCES: "permission denied",
  EPERM: "permission denied",
  EROFS: "the file system is read-only",
  ENOSPC: "the disk is full",
  ENOENT: "there is no such folder",
  EEXIST: "it is a file, not a folder",
  ENOTDIR: "it is a file, or a part of its path is one",
};

/** What the system says of a file error, without its own code and path. */
export function inWords(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  return (code && KNOWN[code]) || message;
}
