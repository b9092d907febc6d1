import { copyRate, Demand, streamRate, type Copy, type Stream } from "../study/demand";

/** An everyday job as a demand, and where its figures come from. */
export interface DemandPreset {
  demand: Demand;
  source: string;
}

const UHD = { width: 3840, height: 2160 };
const HD = { width: 1920, height: 1080 };
/** Bits of one pixel: colour at half the width (4:2:2) or at every pixel (4:4:4). */
const [BITS_422_10, BITS_444_12] = [20, 36];

/** A stream that is known by its bit rate: compressed by as much as that takes. @param mbits Mb/s of one */
function coded(stream: Omit<Stream, "compression">, mbits: number): Stream {
  const raw = streamRate({ ...stream, streams: 1, compression: 1 });
  return { ...stream, compression: Number(((raw * 8) / mbits).toPrecision(6)) };
}

const stream = (name: string, source: string, ...streams: Stream[]): DemandPreset => ({
  demand: Demand.parse({ name, streams }),
  source,
});
const copy = (name: string, source: string, ...copies: Copy[]): DemandPreset => ({
  demand: Demand.parse({ name, copies }),
  source,
});

const RASTER = "ITU-R BT.2020 and BT.709: pictures, rates and bits of a pixel";
const CLOCK = "the amount and the time that the job names";

/** Everyday jobs, those that ask the most last. */
export const DEMAND_PRESETS: readonly DemandPreset[] = [
  stream("Record 64 tracks of sound", "24 bits at 96 kHz: AES5-2018", {
    what: "tracks",
    direction: "write",
    width: 64,
    height: 1,
    perSecond: 96_000,
    bits: 24,
    streams: 1,
    compression: 1,
  }),
  stream(
    "Record one camera, 4K at 30, 100 Mb/s",
    `${RASTER}; the bit rate is what such cameras print`,
    coded(
      { what: "camera", direction: "write", ...UHD, perSecond: 30, bits: BITS_422_10, streams: 1 },
      100,
    ),
  ),
  stream(
    "Edit four streams, 4K at 30, 100 Mb/s each",
    `${RASTER}; the bit rate is what such cameras print`,
    coded(
      { what: "streams", direction: "read", ...UHD, perSecond: 30, bits: BITS_422_10, streams: 4 },
      100,
    ),
  ),
  stream(
    "Edit four streams, 4K at 60, 1 500 Mb/s each",
    `${RASTER}; the bit rate is that of codecs that keep each picture by itself`,
    coded(
      { what: "streams", direction: "read", ...UHD, perSecond: 60, bits: BITS_422_10, streams: 4 },
      1500,
    ),
  ),
  stream("Record HD at 60, not compressed", RASTER, {
    what: "camera",
    direction: "write",
    ...HD,
    perSecond: 60,
    bits: BITS_422_10,
    streams: 1,
    compression: 1,
  }),
  stream("Record 4K at 60, not compressed", RASTER, {
    what: "camera",
    direction: "write",
    ...UHD,
    perSecond: 60,
    bits: BITS_422_10,
    streams: 1,
    compression: 1,
  }),
  stream("Record 8K raw at 24, compressed by 5", `${RASTER}; 12 bits of each colour`, {
    what: "camera",
    direction: "write",
    width: 7680,
    height: 4320,
    perSecond: 24,
    bits: BITS_444_12,
    streams: 1,
    compression: 5,
  }),
  copy("Import 150 GB while I wait 5 minutes", CLOCK, {
    what: "cards",
    direction: "write",
    gigabytes: 150,
    minutes: 5,
  }),
  copy("Import a card of 256 GB in 20 minutes", CLOCK, {
    what: "card",
    direction: "write",
    gigabytes: 256,
    minutes: 20,
  }),
  copy("Hand over 1 TB in an hour", CLOCK, {
    what: "project",
    direction: "read",
    gigabytes: 1000,
    minutes: 60,
  }),
  copy("Back up 4 TB in a night of 8 hours", CLOCK, {
    what: "backup",
    direction: "write",
    gigabytes: 4000,
    minutes: 480,
  }),
];

/** The most that a preset asks for at once, MB/s. */
export const presetRate = ({ demand: { streams, copies } }: DemandPreset): number =>
  streams.reduce((sum, one) => sum + streamRate(one), 0) + Math.max(0, ...copies.map(copyRate));
