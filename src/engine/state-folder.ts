import os from "node:os";
import path from "node:path";

/**
 * Where this user's programs keep what they have to find again, whatever data folder Nerrit works with.
 * XDG Base Directory Specification 0.8, $XDG_STATE_HOME.
 *
 * @param room a folder of Nerrit's own there
 */
export const stateFolder = (room: string): string =>
  path.join(
    /* turbopackIgnore: true */
    process.env.XDG_STATE_HOME ||
      path.join(/* turbopackIgnore: true */ os.homedir(), ".local", "state"),
    "nerrit",
    room,
  );
