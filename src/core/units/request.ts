import * as z from "zod";

const MIB = 2 ** 20;

/** Bytes of one request. */
export const blockSchema = z
  .number({ error: "must be a size, for example 512KiB" })
  .int("must be whole bytes")
  .min(512, "must be at least 512 bytes")
  .max(64 * MIB, "must be at most 64 MiB")
  .refine((bytes) => bytes % 512 === 0, "must be a multiple of 512 bytes");

/** Requests in flight: as many as the deepest step of a Depth ladder. */
export const depthSchema = z
  .number({ error: "must be a number" })
  .int("must be a whole number")
  .min(1, "must be at least 1")
  .max(1024, "must be at most 1024");
