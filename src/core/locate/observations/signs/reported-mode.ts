import { allLinks, type Link } from "../../../chain/link";
import { PART_KIND_NAMES } from "../../../chain/part";
import { comesAndGoes, droppedLinks } from "../../../chain/designed";
import type { Observation } from "../observation";
import type { Site } from "../../hypotheses/site";
import { signature, type Sign, type Signature } from "./sign";

/**
 * That a link is reported at a slower mode than its parts share. A part of that link that holds it
 * there brings that about, and two of them that work badly together often do; nothing else does, but
 * a report may be wrong, or stand beside what really holds back.
 */
const dropped = (link: Link): Sign => {
  const ids = new Set([link.upper, ...link.cables, link.lower].map(({ id }) => id));
  const inLink = ({ parts }: Site) => parts.length > 0 && parts.every(({ id }) => ids.has(id));
  return {
    chance: (site, kind) => {
      if (!inLink(site)) return 0.01;
      return kind === "dropped-mode" ? 0.95 : kind === "pairing" ? 0.6 : 0.05;
    },
    otherwise: 0.2,
  };
};

/** That a link is reported at the best mode its parts share: then none of them holds it lower. */
const held = (link: Link): Sign => {
  const ids = new Set([link.upper, ...link.cables, link.lower].map(({ id }) => id));
  return {
    chance: ({ parts }, kind) =>
      kind === "dropped-mode" && parts.every(({ id }) => ids.has(id)) ? 0.05 : null,
    otherwise: 0.9,
  };
};

/** What was reported of the links of a rig that is asked about. */
export function reportedMode(
  { rig, measurementIds }: Observation,
  all: readonly Observation[],
): Signature[] {
  if (
    comesAndGoes(
      rig,
      all.map((one) => one.rig),
    )
  )
    return [];
  const slower = droppedLinks(rig);
  return allLinks(rig).flatMap((link) => {
    const said = rig.settled.find(({ partId }) => partId === link.lower.id);
    if (!said || !link.mode || !link.negotiated) return [];
    const by = said.by === "system" ? "The system reports" : "The tester declares";
    const where = `the link to the ${PART_KIND_NAMES[link.lower.kind]} ${link.lower.name} at ${link.mode.short}`;
    if (slower.includes(link))
      return [
        signature(dropped(link), rig, true, {
          text: `${by} ${where}, where all its parts say ${link.negotiated.short}.`,
          measurementIds,
        }),
      ];
    return link.mode.id === link.negotiated.id
      ? [
          signature(held(link), rig, true, {
            text: `${by} ${where}, the best that its parts share.`,
            measurementIds,
          }),
        ]
      : [];
  });
}
