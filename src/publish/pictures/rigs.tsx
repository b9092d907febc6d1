import { ceilingText } from "@/core/machine/machine-stage";
import { renderToStaticMarkup } from "react-dom/server";
import type { LetteredRig } from "@/core/answer/lettered-rig";
import type { Stage } from "@/core/chain/stage";
import { marksOf } from "@/core/locate/findings/finding";
import { STATE_SIGNS } from "@/core/locate/findings/carried";
import { formatPercent, formatRate } from "@/core/units/number";
import { inUnit, type Direction, type RateUnit } from "@/core/units/rate";
import { Channel } from "@/ui/narrows/channel";
import { lineUp } from "@/ui/narrows/geometry";
import { FONTS } from "../theme";

/** Width of every picture, pixels: what a printed page takes. */
export const WIDTH = 760;
const [NAME, LABELS, CHANNEL, GAP] = [26, 36, 62, 20];
/** A letter of the labels is about this share of its size wide. */
const NARROW = 0.46;

/** The Narrows drawing of some rigs as one SVG document, its colours by role. */
export function rigsPicture(
  { rigs, direction, unit }: { rigs: LetteredRig[]; direction: Direction; unit: RateUnit },
  alt: string,
): { svg: string; width: number; height: number } {
  const drawn = rigs.map((one) => ({
    rig: one.rig,
    flow: one.observation?.repeats.median ?? null,
    machine: one.machine,
    marks: marksOf(one, direction),
  }));
  const { columns, rows, widest } = lineUp(drawn, direction);
  const each = NAME + LABELS + CHANNEL + GAP;
  const height = each * rigs.length;
  const width = WIDTH / columns.length;
  const rate = (mbps: number) => formatRate(inUnit(mbps, unit));
  const svg = renderToStaticMarkup(
    <svg
      xmlns="http://www.w3.org/2000/svg"
      viewBox={`0 0 ${WIDTH} ${height}`}
      width={WIDTH}
      height={height}
      role="img"
      aria-label={alt}
    >
      <title>{alt}</title>
      {rigs.map(({ letter, rig, observation, finding, standing }, i) => {
        const row = rows[i]!;
        const { flow } = drawn[i]!;
        return (
          <g key={rig.id} transform={`translate(0 ${i * each})`}>
            <text
              x="0"
              y="19"
              fontFamily={FONTS.serif}
              fontSize="20"
              fontStyle="italic"
              fill="var(--ink)"
            >
              {letter}
            </text>
            <text
              x="26"
              y="19"
              fontFamily={FONTS.sans}
              fontSize="15"
              fontWeight="600"
              fill="var(--ink)"
            >
              {shortened(rig.name, 70)}
            </text>
            <text
              x={WIDTH}
              y="19"
              textAnchor="end"
              fill="var(--ink)"
              fontFamily={FONTS.mono}
              fontSize="16"
            >
              <tspan fontWeight="600">
                {flow === null ? "not measured" : `${rate(flow)} ${unit}`}
              </tspan>
              {finding && (
                <tspan fontSize="12" fill="var(--secondary)">
                  {` ${formatPercent(finding.efficiency)} of the ceiling`}
                </tspan>
              )}
              {observation && observation.origin !== "measured" && (
                <tspan fontSize="12" fill="var(--secondary)">{` · ${observation.origin}`}</tspan>
              )}
            </text>
            {row.stages.map(
              (stage, column) =>
                stage && (
                  <Label
                    key={column}
                    stage={stage}
                    x={width * (column + 0.5)}
                    width={width}
                    narrow={row.marks.stageKeys.includes(stage.key)}
                    differs={columns[column]!.differs && rigs.length > 1}
                    sign={
                      standing?.parts[stage.part.id]
                        ? STATE_SIGNS[standing.parts[stage.part.id]!]
                        : ""
                    }
                    rate={ceilingText(stage, rate)}
                  />
                ),
            )}
            <g transform={`translate(0 ${NAME + LABELS})`}>
              <Channel
                row={row}
                flow={flow}
                direction={direction}
                widest={widest}
                width={WIDTH}
                height={CHANNEL}
                label={`Rig ${letter}`}
              />
            </g>
          </g>
        );
      })}
    </svg>,
  );
  return { svg, width: WIDTH, height };
}

function Label({
  stage,
  x,
  width,
  narrow,
  differs,
  sign,
  rate,
}: {
  stage: Stage;
  x: number;
  width: number;
  narrow: boolean;
  differs: boolean;
  sign: string;
  rate: string;
}) {
  const size = width < 70 ? 11 : 13;
  return (
    <g textAnchor="middle">
      <text
        x={x}
        y={NAME + 15}
        fontFamily={FONTS.sans}
        fontSize={size}
        fontWeight="500"
        fill="var(--ink)"
        textDecoration={differs ? "underline" : undefined}
      >
        {`${sign}${sign && " "}${shortened(stage.label, Math.floor((width - 6) / (size * NARROW)))}`}
      </text>
      <text
        x={x}
        y={NAME + 30}
        fontFamily={FONTS.mono}
        fontSize={size - 1}
        fill={narrow ? "var(--bottleneck)" : "var(--secondary)"}
        fontWeight={narrow ? 600 : 400}
      >
        {rate}
      </text>
    </g>
  );
}

const shortened = (text: string, most: number) => {
  const signs = [...text];
  return signs.length > most ? `${signs.slice(0, Math.max(1, most - 1)).join("")}…` : text;
};
