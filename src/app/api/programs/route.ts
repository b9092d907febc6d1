import { programs } from "@/services/elsewhere/programs";
import { respond } from "../respond";

/** The programs that measure on other machines, with their sizes and digests. */
export const GET = () => respond(() => programs());
