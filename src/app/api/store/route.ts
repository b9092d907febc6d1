import { services } from "@/services/services";
import { respond } from "../respond";

/** Whether the store can be written; null where it can. */
export const GET = () => respond(() => ({ trouble: services().desk.keeper.state }));
