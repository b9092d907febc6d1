import { drivesNow } from "@/services/plugged/plugged";
import { respond } from "../respond";

/** The drives that the system has. */
export const GET = () => respond(async () => ({ drives: await drivesNow() }));
