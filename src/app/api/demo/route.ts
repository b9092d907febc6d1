import { bench } from "@/bench/bench";
import { putDemo, removeDemo } from "@/bench/demo";
import { respond } from "../respond";

/** Puts the sample studies back. */
export const PUT = () => respond(() => putDemo(bench().store));

/** Takes the sample studies away; those that hold something of the tester's own stay, and are named. */
export const DELETE = () => respond(() => ({ stay: removeDemo(bench().store) }));
