import * as z from "zod";
import { HostName } from "./host-name";
import { absolutePath } from "./text";

/** A directory or block device, and the machine that it is on. */
export interface Place {
  /** Null for this machine. */
  host: string | null;
  path: string;
}

/** Where a text says that a place is: "lab2:/media/drive", or "/media/drive" on this machine. */
export function placeFrom(text: string): Place {
  const found = /^(.*?):(\/.*)$/s.exec(text);
  const name = found && HostName.safeParse(found[1]);
  return name?.success ? { host: name.data, path: found![2]! } : { host: null, path: text };
}

/** A place as it is typed and shown. */
export const placeText = ({ host, path }: Place): string =>
  host === null ? path : `${host}:${path}`;

/** Whether a text, while it is typed, is a whole place. */
export const isPlace = (text: string): boolean => placeFrom(text).path.startsWith("/");

/** A path of this machine or, behind its name, of another host. @param asked what to say where nothing is named */
export const placeOnAnyHost = (asked: string) =>
  z
    .string()
    .trim()
    .superRefine((text, context) => {
      const [issue] = absolutePath(asked).safeParse(placeFrom(text).path).error?.issues ?? [];
      if (issue) context.addIssue({ code: "custom", message: issue.message });
    });
