"use client";

import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { CrossCheckAnswer } from "@/core/cross-check/answer";
import type { CheckedFigure, CrossCheck } from "@/core/cross-check/cross-check";
import { MOST_SIGNS } from "@/core/cross-check/stated-figure";
import { askedWords, nextOf, tellCrossCheck } from "@/core/cross-check/cross-check-words";
import { ladderBy } from "@/core/drills/catalogue";
import { formatPercent } from "@/core/units/number";
import type { Direction } from "@/core/units/rate";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Trouble } from "../controls/form";
import { Link } from "../controls/link";
import { BOX } from "../controls/look";
import { Select } from "../controls/select";
import { orThrow, send } from "../controls/send";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { WAYS } from "../measure/form/ways";

/** Why two programs show different figures of one rig: each is held against the rig's own ladders. */
export function CrossCheckPrograms({
  studyId,
  rigs,
  direction: asked,
}: {
  studyId: string;
  rigs: readonly { id: string; letter: string; name: string }[];
  direction: Direction;
}) {
  const [rigId, setRigId] = useState(rigs[0]?.id ?? "");
  const [direction, setDirection] = useState<Direction>(asked);
  const [text, setText] = useState("");
  const checking = useMutation({
    mutationFn: async () => {
      const order = { rigId, direction, text };
      const answer = await orThrow(send("POST", `/api/studies/${studyId}/cross-check`, order));
      return { ...CrossCheckAnswer.parse(answer), rigId, direction };
    },
  });
  if (rigs.length === 0) return null;
  return (
    <Fold className="mt-5" summary="Why do two programs show different figures of one rig?">
      <Form className="mt-2 max-w-3xl space-y-3" onSend={() => checking.mutate()}>
        <div className="grid gap-3 sm:grid-cols-[2fr_1fr]">
          <Field label="Rig">
            <Select
              name="cross-check-rig"
              value={rigId}
              options={rigs.map(({ id, letter, name }) => ({
                value: id,
                text: `${letter} · ${name}`,
              }))}
              onChange={setRigId}
            />
          </Field>
          <Field label="Direction">
            <Select
              name="cross-check-direction"
              value={direction}
              options={(["read", "write"] as const).map((way) => ({ value: way, text: WAYS[way] }))}
              onChange={(way) => setDirection(way as Direction)}
            />
          </Field>
        </div>
        <Field
          label="What each program shows, a line each"
          hint="its name, a colon, its figure, the size of a request, how many are in flight, and “random” where the places are"
        >
          <textarea
            name="cross-check-lines"
            rows={3}
            maxLength={MOST_SIGNS}
            spellCheck={false}
            className={BOX}
            placeholder={
              "Scree: 730 MB/s, 128 KiB, 1 in flight\nMarmot: 1 430 MB/s, 1 MiB, 8 in flight"
            }
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </Field>
        <Button type="submit" disabled={text.trim() === "" || checking.isPending}>
          Hold them against the ladders
        </Button>
      </Form>
      {checking.error && <Trouble>{checking.error.message}</Trouble>}
      {checking.data && <Answer studyId={studyId} {...checking.data} />}
    </Fold>
  );
}

function Answer({
  studyId,
  rigId,
  direction,
  hasLadder,
  problems,
  check,
}: CrossCheckAnswer & { studyId: string; rigId: string; direction: Direction }) {
  const { name, title } = ladderBy("block");
  const query = new URLSearchParams({ rig: rigId, drill: name, direction });
  return (
    <div className="mt-3 max-w-3xl space-y-2" aria-live="polite" data-cross-check>
      {problems.map(({ line, problem }) => (
        <Trouble key={line}>
          Line {line} {problem}.
        </Trouble>
      ))}
      {!hasLadder && (
        <p>
          No {title} was done through this rig, {WAYS[direction]}. It tells what each way of asking
          gives.{" "}
          <Link className="underline" href={`/studies/${studyId}/measure?${query}`}>
            Do one
          </Link>
        </p>
      )}
      {check && <Checked check={check} />}
    </div>
  );
}

function Checked({ check }: { check: CrossCheck }) {
  const rates = useRates();
  return (
    <>
      <p className="font-serif text-xl">{tellCrossCheck(check, rates)}</p>
      <div className="overflow-x-auto">
        <table className="w-full">
          <thead>
            <tr>
              <th className={`${HEAD} w-1/4`}>program</th>
              <th className={HEAD}>asks</th>
              <th className={HEAD_RIGHT}>shows, {rates.unit}</th>
              <th className={HEAD_RIGHT}>this path gives</th>
              <th className={HEAD_RIGHT}>off by</th>
            </tr>
          </thead>
          <tbody>
            {check.figures.map((one, i) => (
              <Row key={i} figure={one} />
            ))}
          </tbody>
        </table>
      </div>
      <p className="text-sm text-secondary">
        By the fits of its ladders. A figure within {formatPercent(check.within)} of them counts as
        what the path gives.
      </p>
    </>
  );
}

function Row({ figure }: { figure: CheckedFigure }) {
  const { rate } = useRates();
  const next = nextOf(figure);
  return (
    <>
      <tr>
        <td className={`${CELL} min-w-28 [overflow-wrap:anywhere]`}>{figure.name}</td>
        <td className={CELL}>{askedWords(figure)}</td>
        <td className={`${FIGURE} font-semibold`}>{rate(figure.mbps)}</td>
        <td className={FIGURE}>{figure.expectedMBps === null ? "–" : rate(figure.expectedMBps)}</td>
        <td className={FIGURE}>
          {figure.off === null
            ? "–"
            : `${figure.off < 0 ? "−" : "+"}${formatPercent(Math.abs(figure.off))}`}
        </td>
      </tr>
      {next && (
        <tr>
          <td className={CELL} />
          <td className={`${CELL} text-sm`} colSpan={4}>
            {next}
          </td>
        </tr>
      )}
    </>
  );
}
