"use client";

import { useRouter } from "next/navigation";
import { useState } from "react";
import { PART_KIND_NAMES, type PartKind } from "@/core/chain/part";
import type { Learnt } from "@/core/locate/steps/learnt-minutes";
import {
  MINUTES,
  PRIOR_KEYS,
  PRIORS,
  reasonOf,
  usualShare,
  type CauseKind,
  type MinutesOf,
  type Opinion,
  type PriorKey,
} from "@/core/locate/hypotheses/opinion";
import { formatNumber } from "@/core/units/number";
import { Fold } from "../controls/fold";
import { Button, Form, Input, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { saySaved } from "../controls/toast";
import { CELL, HEAD } from "../controls/table";

const CONDITIONS: Partial<Record<PriorKey, string>> = {
  fileSystem: "the file system",
  transport: "the driver mode, where it is not the usual one",
  "usual transport": "the driver mode that every system takes by itself",
  host: "the computer",
  bay: "the bay, where one is named,",
  temperature: "the heat of a drive that began hot",
  fill: "a drive that was nearly full as it was written",
  writeCache: "a write cache that was off",
  processor: "other programs that kept a core busy",
  farProcessor: "a far host of which a core had no time left",
  copySource: "the source of a copy, outside the rig",
  copyTarget: "the target of a copy, outside the rig",
};

/** What a prior is of, in words, and its kind of cause. */
function wordsOf(key: PriorKey): { what: string; kind: CauseKind } {
  const condition = CONDITIONS[key];
  if (condition) return { what: `${condition} reduces the rate`, kind: "condition" };
  if (key === "pairing") return { what: `of all in a rig, ${PRIORS[key].name}`, kind: key };
  if (key === "nothing") return { what: PRIORS[key].name, kind: key };
  if (key === "request time")
    return {
      what: "a drive that does not say so takes long for small requests",
      kind: "own-limit",
    };
  if (key === "sustained writing")
    return {
      what: "a drive writes slowly once its cache is full",
      kind: "own-limit",
    };
  const [part, kind] = key.split(" ") as [PartKind, CauseKind];
  return { what: `${PART_KIND_NAMES[part]}: ${PRIORS[kind].name}`, kind };
}

const HANDS: Record<MinutesOf, string> = {
  ...PART_KIND_NAMES,
  without: "leaving out a hub or adapter",
  fileSystem: "formatting",
  transport: "another driver mode",
  host: "another computer",
  bay: "another bay",
  temperature: "letting a drive cool down",
  fill: "emptying a drive",
  writeCache: "switching a write cache on",
  processor: "ending other programs",
  farProcessor: "serving a share from another machine",
  copySource: "changing the source of a copy",
  copyTarget: "changing the target of a copy",
};

/** A share as a percentage to be typed. */
const percent = (share: number) => `${Number((share * 100).toPrecision(3))}`;

/** How often each cause occurs and how long each change takes, as the program takes it and the tester sets it. */
export function OpinionForm({
  opinion,
  learnt,
}: {
  /** As it was typed, without what was learnt. */
  opinion: Opinion;
  learnt: Partial<Record<MinutesOf, Learnt>>;
}) {
  const router = useRouter();
  const [priors, setPriors] = useState<Partial<Record<PriorKey, string>>>(
    Object.fromEntries(Object.entries(opinion.priors).map(([key, share]) => [key, percent(share)])),
  );
  const [minutes, setMinutes] = useState<Partial<Record<MinutesOf, string>>>(
    Object.fromEntries(Object.entries(opinion.minutes).map(([key, value]) => [key, `${value}`])),
  );
  const [trouble, setTrouble] = useState<string | null>(null);
  const [ownPriors, ownMinutes] = [opinion.priors, opinion.minutes].map(
    (all) => Object.keys(all).length > 0,
  );
  async function keep(own: boolean) {
    const numbers = (typed: Partial<Record<string, string>>, per: number) =>
      Object.fromEntries(
        Object.entries(typed)
          .filter(([, text]) => text?.trim())
          .map(([key, text]) => [key, Number(text!.replace(",", ".").replace("%", "")) / per]),
      );
    const sent = await send("PUT", "/api/opinion", {
      fewest: opinion.fewest,
      priors: own ? numbers(priors, 100) : {},
      minutes: own ? numbers(minutes, 1) : {},
    });
    if (!sent.ok) return setTrouble(sent.error.message);
    if (!own) {
      setPriors({});
      setMinutes({});
    }
    setTrouble(null);
    saySaved(
      own
        ? "Saved. All causes are weighed again."
        : "Usual values restored. All causes are weighed again.",
    );
    router.refresh();
  }
  const buttons = (
    <>
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="mt-2 flex gap-3">
        <Button type="submit">Save minutes and priors</Button>
        <Button onClick={() => void keep(false)}>As usual</Button>
      </div>
    </>
  );
  return (
    <Form onSend={() => keep(true)} className="space-y-2">
      <Fold
        summary={
          <span className="font-semibold">Minutes of each change{ownMinutes && " (yours)"}</span>
        }
        className="space-y-2"
      >
        <p className="text-[14px] text-secondary">
          What the next step is chosen by where the least time is asked for. An empty field takes
          the usual figure.
        </p>
        <ul className="grid grid-cols-2 gap-x-4 gap-y-1 text-[14px]">
          {(Object.keys(MINUTES) as MinutesOf[]).map((key) => {
            const known = learnt[key];
            return (
              <li key={key} className="flex items-center gap-2">
                <span className="mr-auto">
                  {HANDS[key]}
                  {known && (
                    <span className="text-[13px] text-secondary"> learnt from {known.from}</span>
                  )}
                </span>
                <Input
                  aria-label={`Minutes: ${HANDS[key]}`}
                  name={`minutes-${key}`}
                  className="figure !w-20 text-right"
                  placeholder={formatNumber(known?.minutes ?? MINUTES[key], known ? 1 : 0)}
                  value={minutes[key] ?? ""}
                  onChange={(event) => setMinutes((was) => ({ ...was, [key]: event.target.value }))}
                />
              </li>
            );
          })}
        </ul>
        {buttons}
      </Fold>
      <Fold
        summary={
          <span className="font-semibold">
            How sure, and why: how often each cause occurs{ownPriors && " (yours)"}
          </span>
        }
        className="space-y-2"
      >
        <p className="text-[14px] text-secondary">
          Before anything is measured of a rig, each cause is taken to limit it so often. The
          figures are experience to a factor of about two; only their proportions count. An empty
          field takes the usual figure.
        </p>
        <table className="w-full text-[14px]">
          <thead>
            <tr>
              <th className={HEAD}>cause</th>
              <th className={`${HEAD} w-28`}>so often, %</th>
            </tr>
          </thead>
          <tbody>
            {PRIOR_KEYS.map((key) => {
              const { what, kind } = wordsOf(key);
              return (
                <tr key={key}>
                  <td className={CELL}>
                    {what} <span className="text-[13px] text-secondary">{reasonOf(key, kind)}</span>
                  </td>
                  <td className={CELL}>
                    <Input
                      aria-label={`How often: ${what}, percent`}
                      name={`prior-${key.replaceAll(" ", "-")}`}
                      className="figure !w-24 text-right"
                      placeholder={percent(usualShare(key))}
                      value={priors[key] ?? ""}
                      onChange={(event) =>
                        setPriors((was) => ({ ...was, [key]: event.target.value }))
                      }
                    />
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
        {buttons}
      </Fold>
    </Form>
  );
}
