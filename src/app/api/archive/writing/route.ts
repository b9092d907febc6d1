import { services } from "@/services/services";
import { respond } from "../../respond";

/** Begins to add what the archive lacks. */
export const POST = () => respond(() => services().archives.start(), 202);

/** Stops that. */
export const DELETE = () => respond(() => services().archives.stop());
