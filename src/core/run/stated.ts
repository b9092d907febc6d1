import * as z from "zod";

/** What no system tells of a bench, so the tester is asked; null where nothing was said. */
export const Stated = z.object({
  /** Of the room, °C. */
  ambientCelsius: z
    .number({ error: "must be a temperature in °C" })
    .min(-40, "at least −40 °C")
    .max(80, "at most 80 °C")
    .nullable()
    .default(null),
  fan: z.enum(["off", "on"]).nullable().default(null),
  heatsink: z.enum(["off", "on"]).nullable().default(null),
  /** Fresh: erased or never written to, so that nothing has to be folded or collected. */
  drive: z.enum(["fresh", "used"]).nullable().default(null),
});
export type Stated = z.infer<typeof Stated>;

/** Nothing was said. */
export const UNSAID: Stated = { ambientCelsius: null, fan: null, heatsink: null, drive: null };

/** The choices there are, with what each is called. */
export const STATED_CHOICES = {
  fan: { label: "Fan", words: { off: "none", on: "blows on the drive" } },
  heatsink: { label: "Heatsink", words: { off: "none", on: "on the drive" } },
  drive: { label: "Drive", words: { fresh: "erased, or never written to", used: "used" } },
} as const;

/** What was said, a line each; what was not said is left out. */
export function statedWords(stated: Stated): { what: string; value: string }[] {
  const said = (what: "fan" | "heatsink" | "drive") => {
    const { label, words } = STATED_CHOICES[what];
    const value = stated[what];
    return value === null
      ? []
      : [{ what: label.toLowerCase(), value: (words as Record<string, string>)[value]! }];
  };
  return [
    ...(stated.ambientCelsius === null
      ? []
      : [{ what: "room temperature", value: `${stated.ambientCelsius} °C` }]),
    ...said("fan"),
    ...said("heatsink"),
    ...said("drive"),
  ];
}
