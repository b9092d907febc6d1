import { services } from "@/services/services";
import { partsToRepeat } from "@/services/shelf/shelf";
import { respond } from "../../respond";

/** The tester's own parts that another one may be like. */
export const GET = () => respond(() => partsToRepeat(services().store));
