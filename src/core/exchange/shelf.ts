import * as z from "zod";
import { PartDraft } from "../chain/part";

/** A shelf as a file: every part as entered, nothing of the studies it was used in. */
export const ShelfFile = z.object({
  format: z.literal("nerrit-shelf"),
  version: z.literal(1),
  parts: z.array(PartDraft).max(20_000, "at most 20 000 parts in one file"),
});
export type ShelfFile = z.infer<typeof ShelfFile>;

/** The file's schema (JSON Schema 2020-12), for whoever writes or reads such files elsewhere. */
export const shelfFileSchema = () =>
  z.toJSONSchema(ShelfFile, { io: "input", unrepresentable: "any" });
