import { services } from "@/services/services";
import { putSamples, removeSamples } from "@/services/recordings/samples";
import { putDemo, removeDemo } from "@/services/studies/demo";
import { respond } from "../respond";

/** Puts the sample studies back, and the sample recordings. */
export const PUT = () =>
  respond(() => {
    const { store, recordings } = services();
    putDemo(store);
    putSamples(recordings.folder);
  });

/**
 * Takes the sample studies and recordings away; studies that hold something of the tester's own stay, and are
 * named.
 */
export const DELETE = () =>
  respond(() => {
    const { store, recordings } = services();
    const stay = removeDemo(store);
    removeSamples(recordings.folder);
    return { stay };
  });
