/** Said before the answer, so that what a host greets with is told apart. */
const SPACE_BEGIN = "nerrit-space";

/**
 * Asks any POSIX shell how much room there is in the directory that the next line names (IEEE Std 1003.1, df -P).
 * Without single quotes, so that it can be an argument of `sh -c '...'`.
 */
export const SPACE_QUESTION = [
  "IFS= read -r t",
  `echo ${SPACE_BEGIN}`,
  '[ -d "$t" ] && cd "$t" && df -Pk .',
].join("; ");

/**
 * Reads the answer.
 *
 * @returns bytes free for this user, and of the whole file system; null where there is no such directory
 */
export function spaceIn(text: string): { free: number; total: number } | null {
  const said = text.slice(text.indexOf(`${SPACE_BEGIN}\n`));
  // File system, 1024-blocks, used, available, capacity, mounted on; the name may hold spaces.
  const found = /^\S.* (\d+) +\d+ +(-?\d+) +\d+% /m.exec(said);
  if (!found) return null;
  return { total: Number(found[1]) * 1024, free: Math.max(0, Number(found[2])) * 1024 };
}
