import { counted } from "@/core/units/counted";
import { send } from "../controls/send";
import { sayRemoved } from "../controls/toast";

/** What was taken in at once, so that it can be undone at once. */
export interface Taken {
  measurementIds: string[];
  rigIds: string[];
  partIds: string[];
  /** The name by which it is undone. */
  undo?: string;
}

/** Says what was taken in, with a way back. */
export function sayTaken(studyId: string, taken: Taken, refresh: () => void): void {
  const { measurementIds, rigIds, partIds } = taken;
  const made = [
    ...(rigIds.length > 0 ? [counted(rigIds.length, "rig")] : []),
    ...(partIds.length > 0 ? [counted(partIds.length, "part")] : []),
  ];
  sayRemoved(
    `${counted(measurementIds.length, "result")} added${made.length > 0 ? `; ${made.join(" and ")} made` : ""}.`,
    async () => {
      const { undo } = taken;
      const url = `/api/studies/${studyId}/taken`;
      const sent = await send<{ stay: string[] }>("DELETE", url, { undo });
      refresh();
      if (!sent.ok) return sent.error.message;
      const { stay } = sent.data;
      return stay.length === 0 ? null : `${stay.join(", ")} stays: it was measured since.`;
    },
  );
}
