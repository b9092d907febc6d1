import * as z from "zod";
import { PartDraft } from "../chain/part";
import { RigDraft } from "../chain/rig";
import { PlanFields } from "../plan/plan";
import { absolutePath } from "../units/text";

/**
 * A plan as a file: the gear, how it is put together, and what is measured on it, for a machine without
 * a screen (docs/formats.md).
 */

const name = z.string().min(1).max(80);

export const PlannedRig = RigDraft.omit({ partIds: true, besideIds: true, otherIds: true }).extend({
  /** Parts from host to drive, by their names in the file. */
  parts: z.array(name).min(2, "a rig needs at least a host port and a drive").max(12),
  beside: z.array(name).max(23).default([]),
  /** Where it is measured. */
  target: absolutePath("name where the rig is measured"),
});
export type PlannedRig = z.infer<typeof PlannedRig>;

export const PlanFile = z
  .object({
    format: z.literal("nerrit-plan", { error: 'is not "nerrit-plan": it is no plan' }),
    version: z.literal(1, { error: "is a version that this Nerrit does not know" }),
    parts: z.array(PartDraft).min(2, "a plan needs parts: a host port and a drive").max(200),
    rigs: z.array(PlannedRig).min(1, "a plan needs a rig").max(50, "at most 50 rigs"),
    ...PlanFields,
  })
  .superRefine(({ parts, rigs }, context) => {
    const names = parts.map((part) => part.name);
    const complain = (path: (string | number)[], message: string) =>
      context.addIssue({ code: "custom", path, message });
    names.forEach((one, i) => {
      if (names.indexOf(one) < i) complain(["parts", i, "name"], `names ${one} twice`);
    });
    rigs.forEach((rig, i) => {
      for (const part of [...rig.parts, ...rig.beside])
        if (!names.includes(part)) complain(["rigs", i, "parts"], `there is no part "${part}"`);
      if (rigs.findIndex((other) => other.name === rig.name) < i)
        complain(["rigs", i, "name"], `names ${rig.name} twice`);
    });
  });
export type PlanFile = z.infer<typeof PlanFile>;

/** A plan to begin with: one drive, two cables. */
export const EXAMPLE_PLAN: z.input<typeof PlanFile> = {
  format: "nerrit-plan",
  version: 1,
  title: "Which cable to carry",
  parts: [
    {
      kind: "host-port",
      name: "Icefall rear port",
      connectors: [{ side: "down", modes: ["usb-480m", "usb-5g", "usb-10g"] }],
    },
    {
      kind: "cable",
      name: "K5",
      connectors: [{ side: "through", modes: ["usb-480m", "usb-5g", "usb-10g"] }],
    },
    {
      kind: "cable",
      name: "K2",
      connectors: [{ side: "through", modes: ["usb-480m", "usb-5g"] }],
    },
    {
      kind: "drive",
      name: "Moraine 1T",
      serial: "MR-0001",
      connectors: [{ side: "up", modes: ["usb-480m", "usb-5g", "usb-10g"] }],
    },
  ],
  rigs: [
    { name: "With K5", parts: ["Icefall rear port", "K5", "Moraine 1T"], target: "/media/moraine" },
    { name: "With K2", parts: ["Icefall rear port", "K2", "Moraine 1T"], target: "/media/moraine" },
  ],
  drills: [
    { name: "haul", direction: "read" },
    { name: "haul", direction: "write" },
  ],
  repeats: 3,
};
