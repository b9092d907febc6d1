import { JUDGED_ENCLOSURES, type Question } from "./question";

export const enclosureVerdicts: Question = {
  name: "enclosure-verdicts",
  title: "Which enclosures deliver their claims?",
  words:
    "The latest verdict on each claim of throughput. The lowest share of the claim stands first.",
  filters: ["words", "gbps", "direction", "simulated"],
  sql: `WITH ${JUDGED_ENCLOSURES}
SELECT name AS enclosure, maker, model, chip, firmware, direction, verdict,
  claimed_mb_per_s, observed_mb_per_s, share_of_claim
FROM judged
ORDER BY share_of_claim, enclosure`,
  columns: {
    enclosure: { title: "Enclosure", as: "text" },
    maker: { title: "Maker", as: "text" },
    model: { title: "Model", as: "text" },
    chip: { title: "Bridge chip", as: "text" },
    firmware: { title: "Firmware", as: "text" },
    direction: { title: "Direction", as: "text" },
    verdict: { title: "Verdict", as: "text" },
    claimed_mb_per_s: { title: "Claimed", as: "rate" },
    observed_mb_per_s: { title: "Observed", as: "rate" },
    share_of_claim: { title: "Share of claim", as: "share" },
  },
  picture: { kind: "bars", label: ["enclosure", "direction"], value: "share_of_claim" },
};
