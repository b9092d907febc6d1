import path from "node:path";
import { ROOT } from "./command";

/** A stand-in for the measuring process: it tells a steady run at once, and moves nothing. */
export const STAND_IN = path.join(ROOT, "scripts/benchmarks/stand-in-engine.mjs");
/** The file in a target's folder that says at which rate, MB/s. */
export const RATE = "stand-in-rate";
