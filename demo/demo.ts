import { BASE_CAMP } from "./studies/base-camp";
import { CABLE } from "./studies/cable";
import { DAY } from "./studies/day";
import { ENCLOSURE } from "./studies/enclosure";
import { WORK } from "./studies/work";

/** The studies of the demo, in the order in which the first page shows them. */
export const DEMO_STUDIES = [CABLE, ENCLOSURE, DAY, BASE_CAMP, WORK];

/** Seed of all simulated runs of the demo. */
export const DEMO_SEED = 1912;
