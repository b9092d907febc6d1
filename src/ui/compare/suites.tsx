"use client";

import { useMutation } from "@tanstack/react-query";
import { useRouter } from "next/navigation";
import { useState } from "react";
import { tellSuite, type SuiteShown } from "@/core/compare/suites";
import { readSuite, type NamedRig } from "@/core/elsewhere/suite-table";
import type { Suite } from "@/core/study/suite";
import { counted } from "@/core/units/counted";
import { formatPercent, formatRate } from "@/core/units/number";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { BOX } from "../controls/look";
import { orThrow, send } from "../controls/send";
import { sayFailed, sayRemoved } from "../controls/toast";
import { CELL, FIGURE, HEAD, HEAD_RIGHT } from "../controls/table";
import { useRates } from "../frame/unit";
import { OutMenu } from "../out/out-menu";
import { suiteRows } from "./table-rows";

/** What other programs' suites showed over the rigs, test by test, and a place to add one. */
export function Suites({
  studyId,
  suites,
  rigs,
}: {
  studyId: string;
  suites: readonly SuiteShown[];
  rigs: readonly NamedRig[];
}) {
  return (
    <>
      {suites.map((suite) => (
        <SuiteTable key={suite.name} studyId={studyId} suite={suite} />
      ))}
      {rigs.length > 0 && <AddSuite studyId={studyId} rigs={rigs} />}
    </>
  );
}

function SuiteTable({ studyId, suite }: { studyId: string; suite: SuiteShown }) {
  const rates = useRates();
  const told = tellSuite(suite, rates);
  const [base, ...others] = suite.rigs;
  return (
    <section className="mt-5" data-suite={suite.name}>
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h2 className="font-serif text-xl [overflow-wrap:anywhere]">{suite.name}</h2>
        <span className="ml-auto flex items-baseline gap-3">
          <RemoveSuite studyId={studyId} name={suite.name} />
          <OutMenu
            caption={{ title: suite.name, note: told }}
            rows={() => suiteRows(suite, rates.unit)}
          />
        </span>
      </div>
      <p className="font-serif text-[18px] leading-7">{told}</p>
      <div className="mt-2 overflow-x-auto">
        <table className="w-full max-w-5xl">
          <caption className="sr-only">{suite.name}, test by test</caption>
          <thead>
            <tr>
              <th className={`${HEAD} w-1/3`}>test</th>
              {suite.rigs.map(({ letter, name, rigId }) => (
                <th key={rigId} className={`${HEAD_RIGHT} align-bottom`}>
                  <span className="font-serif italic">{letter}</span> {name}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {suite.rows.map((row) => (
              <tr key={row.name}>
                <th
                  scope="row"
                  className={`${CELL} text-left font-normal [overflow-wrap:anywhere]`}
                >
                  {row.name}, {row.unit === "MB/s" ? rates.unit : row.unit}
                </th>
                {row.cells.map(({ value, ratio }, i) => (
                  <td key={suite.rigs[i]!.rigId} className={FIGURE}>
                    {value === null
                      ? "–"
                      : row.unit === "MB/s"
                        ? rates.rate(value)
                        : formatRate(value)}
                    {i > 0 && ratio !== null && (
                      <span className="block text-[13px] text-secondary">
                        {differenceWords(ratio)}
                      </span>
                    )}
                  </td>
                ))}
              </tr>
            ))}
            {others.some(({ overall }) => overall !== null) && (
              <tr>
                <th scope="row" className={`${CELL} text-left`}>
                  all tests
                </th>
                {suite.rigs.map(({ rigId, overall }) => (
                  <td key={rigId} className={`${FIGURE} font-semibold`}>
                    {overall === null ? "baseline" : differenceWords(overall)}
                  </td>
                ))}
              </tr>
            )}
          </tbody>
        </table>
      </div>
      <p className="text-sm text-secondary">
        Against {base!.letter}, {base!.name}. All tests: the geometric mean of those that both did.
      </p>
    </section>
  );
}

/** "9.0 % better", "the same". @param ratio how many times as good as the baseline */
function differenceWords(ratio: number): string {
  const share = formatPercent(Math.abs(ratio - 1));
  return Math.abs(ratio - 1) < 0.0005 ? "the same" : `${share} ${ratio > 1 ? "better" : "worse"}`;
}

function RemoveSuite({ studyId, name }: { studyId: string; name: string }) {
  const router = useRouter();
  const url = `/api/studies/${studyId}/suites`;
  const removing = useMutation({
    mutationFn: () => orThrow(send("DELETE", `${url}?${new URLSearchParams({ name })}`)),
    onError: ({ message }) => sayFailed(message),
    onSuccess: (suite) => {
      sayRemoved(`The suite ${name} is removed.`, async () => {
        const sent = await send("POST", url, suite);
        if (!sent.ok) return sent.error.message;
        router.refresh();
        return null;
      });
      router.refresh();
    },
  });
  return (
    <Button disabled={removing.isPending} onClick={() => removing.mutate()}>
      Remove this suite
    </Button>
  );
}

function AddSuite({ studyId, rigs }: { studyId: string; rigs: readonly NamedRig[] }) {
  const router = useRouter();
  const keeping = useMutation({
    mutationFn: (suite: Suite) => orThrow(send("POST", `/api/studies/${studyId}/suites`, suite)),
    onSuccess: () => {
      setName("");
      setText("");
      router.refresh();
    },
  });
  const [name, setName] = useState("");
  const [text, setText] = useState("");
  const read = text.trim() === "" ? null : readSuite(text, rigs);
  const figures = read?.tests.flatMap(({ values }) => values.filter((value) => value !== null));
  const isReady = name.trim() !== "" && read !== null && figures!.length > 0;
  return (
    <Fold className="mt-5" summary="Add the results of another program’s suite">
      <Form
        className="mt-2 max-w-3xl space-y-3"
        onSend={() => isReady && keeping.mutate({ name, rigIds: read.rigIds, tests: read.tests })}
      >
        <Field label="The suite" className="max-w-80">
          <Input
            name="suite-name"
            maxLength={80}
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
        </Field>
        <Field
          label="Its results, pasted from a table"
          hint="a line for each test with its unit in parentheses, a column for each rig by letter or name; or the other way round. Where a smaller figure is the better one, say so: (points, less is better)"
        >
          <textarea
            name="suite-table"
            rows={5}
            spellCheck={false}
            className={`${BOX} figure text-[13px]`}
            placeholder={"Test\tA\tB\nOpen a project (s)\t41\t12\nSave a picture (MB/s)\t310\t455"}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        </Field>
        {read && read.problems.length > 0 && (
          <Trouble>
            {read.problems.slice(0, 6).map(({ line, column, text: cell, problem }) => (
              <span key={`${line} ${column} ${problem}`} className="block">
                Line {line}, column {column}: {cell && `“${cell}” `}
                {problem}.
              </span>
            ))}
            {read.problems.length > 6 && `and ${read.problems.length - 6} more.`}
          </Trouble>
        )}
        {keeping.error && <Trouble>{keeping.error.message}</Trouble>}
        <Button type="submit" disabled={!isReady || keeping.isPending}>
          {isReady
            ? `Add ${counted(figures!.length, "figure")} of ${counted(read.tests.length, "test")}`
            : "Add the suite"}
        </Button>
      </Form>
    </Fold>
  );
}
