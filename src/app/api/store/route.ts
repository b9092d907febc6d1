import { bench } from "@/bench/bench";
import { respond } from "../respond";

/** Whether the store can be written; null where it can. */
export const GET = () => respond(() => ({ trouble: bench().desk.keeper.state }));
