import { changing, count, maybe, moment, number, place, table, text } from "../column";

/** Tables of what is measured with: parts, their claims, rigs. */

const version = (of: string) =>
  text(`Digest of everything that is said of the ${of}: it changes when the ${of} does`);
const writtenAt = moment("When this version came into the archive, UTC");

export const parts = table("A part as it was between two changes", ["part_version"], {
  part_version: version("part"),
  part_id: text("The part, whatever is changed of it"),
  kind: text("host-port, cable, hub, adapter, enclosure, drive, and the other kinds of parts"),
  name: text("As the tester calls it"),
  maker: text("Maker; empty where nothing is said"),
  model: text("Model; empty where nothing is said"),
  serial: text("Serial number; empty where nothing is said"),
  tag: text("The tester's own mark; empty where nothing is said"),
  chip: text("Bridge or controller inside; empty where nothing is said"),
  firmware: text("Firmware that the part runs; empty where nothing is said"),
  uplink: maybe(text("Fastest mode that it offers towards the host; of a cable, that it carries")),
  uplink_gb_per_s: maybe(number("Signalling rate of that mode over all its lanes, Gb/s")),
  length_m: maybe(number("Length of a cable, metres")),
  read_limit_mb_per_s: maybe(number("Rate of reading that the part itself cannot exceed, MB/s")),
  write_limit_mb_per_s: maybe(number("Rate of writing that the part itself cannot exceed, MB/s")),
  capacity_bytes: maybe(count("Capacity of a drive, bytes")),
  cache_bytes: maybe(count("Fast part of a drive that takes writes first, bytes")),
  price: maybe(number("What it cost, in price_currency")),
  price_currency: maybe(text("Three letters, ISO 4217")),
  document_json: text("Everything that is said of the part, as a study's file has it"),
  written_at: writtenAt,
});

export const claims = table("A claim printed on a part", ["part_version", "claim"], {
  part_version: version("part"),
  part_id: text("The part"),
  claim: place("Which claim of the part, from 0"),
  kind: text("peak, sustained, iops, or link for the class of its link"),
  direction: maybe(text("read or write; empty for a link")),
  claimed_mb_per_s: maybe(number("Claimed rate; of small requests their bytes, MB/s")),
  claimed_iops: maybe(number("Claimed requests a second")),
  claimed_gb_per_s: maybe(number("Claimed signalling rate of the link, Gb/s")),
});

export const rigs = table("A rig as it was between two changes", ["rig_version"], {
  rig_version: version("rig"),
  rig_id: text("The rig, whatever is changed of it"),
  name: text("As the tester calls it"),
  rig_host: text("Host that the rig hangs on, as the tester said; empty where nothing is said"),
  file_system: text("File system of the drive; empty where nothing is said"),
  mounted_as: text("Mount of a share on the network; empty where there is none"),
  layout: text("How several drives work together: apart, raid-0, raid-1 and so on"),
  host_port: text("Name of the host port"),
  drive: text("Name of the drive"),
  enclosure: maybe(text("Name of the enclosure nearest to the drive; empty where there is none")),
  read_ceiling_mb_per_s: maybe(number("Payload that its narrowest stage lets through, reading")),
  write_ceiling_mb_per_s: maybe(number("Payload that its narrowest stage lets through, writing")),
  read_bottleneck: maybe(text("That stage, reading")),
  write_bottleneck: maybe(text("That stage, writing")),
  document_json: text("Everything that is said of the rig, as a study's file has it"),
  written_at: writtenAt,
});

export const rigParts = table("A part in its place in a rig", ["rig_version", "side", "place"], {
  rig_version: version("rig"),
  rig_id: text("The rig"),
  side: text("chain (host to drive), beside (further drives in the box), other (end of a copy)"),
  place: place("Which part of that side, from 0"),
  part_version: version("part"),
  part_id: text("The part"),
});

export const studies = changing(
  "A study as it was between two changes",
  ["study_id"],
  "study_version",
  {
    study_version: version("study"),
    study_id: text("The study"),
    title: text("Title"),
    notes: text("The tester's notes; empty where there are none"),
    tolerance_share: number("By how much a part may stay below a claim, as a share of the claim"),
    smallest_effect_share: number("Difference between rigs that is of no interest, as a share"),
    document_json: text("The study's file without its runs: rigs, parts, demands, notes"),
    written_at: writtenAt,
  },
);
