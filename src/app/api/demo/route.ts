import { services } from "@/services/services";
import { putDemo, removeDemo } from "@/services/studies/demo";
import { respond } from "../respond";

/** Puts the sample studies back. */
export const PUT = () => respond(() => putDemo(services().store));

/** Takes the sample studies away; those that hold something of the tester's own stay, and are named. */
export const DELETE = () => respond(() => ({ stay: removeDemo(services().store) }));
