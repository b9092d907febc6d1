import * as z from "zod";

/** A user's name, where one is said, and what stands for the machine: an alias, a name or an address. */
const USER = /^[\p{L}\p{N}_][\p{L}\p{N}._-]*$/u;
const MACHINE = /^[\p{L}\p{N}_][\p{L}\p{N}._-]*$/u;
/** RFC 4291, section 2.2, and a zone of RFC 4007, section 11. */
const ADDRESS_6 = /^(?=[^%]*:[^%]*:)[0-9A-Fa-f:.]+(%[\p{L}\p{N}._-]+)?$/u;

function isHostName(text: string): boolean {
  const at = text.lastIndexOf("@");
  const machine = text.slice(at + 1);
  if (at >= 0 && !USER.test(text.slice(0, at))) return false;
  return MACHINE.test(machine) || ADDRESS_6.test(machine);
}

/**
 * What the tester's SSH configuration understands as a machine: "lab2", "me@10.0.0.7", "fe80::1%eth0". It is
 * given to the SSH client as an argument, so nothing that could be read as an option or as a shell's text is taken.
 */
export const HostName = z
  .string()
  .trim()
  .min(1, { error: "is no name: name a host, for example lab2 or me@10.0.0.7", abort: true })
  .max(255, "at most 255 characters")
  .refine(
    isHostName,
    "is not the name of a host: a name has letters, digits, dots, hyphens and underscores, and may have a user before @",
  );
export type HostName = z.infer<typeof HostName>;

/** Whether two names are of one machine, as set-ups hold them: large and small letters are the same. */
export const isSameName = (a: string, b: string): boolean => a.toLowerCase() === b.toLowerCase();
