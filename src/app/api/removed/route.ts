import { services } from "@/services/services";
import { removedLately } from "@/services/removed/removed";
import { respond } from "../respond";

/** Everything that was removed lately. */
export const GET = () => respond(() => removedLately(services().store));
