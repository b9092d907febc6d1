"use client";

import type { Question } from "@/core/compare/question";
import type { ShownComparison } from "@/core/compare/shown";
import { counted } from "@/core/units/counted";
import { Combobox, type Choices } from "../controls/combobox";

const DIRECTIONS = { read: "reading", write: "writing", both: "reading and writing" } as const;

/** The question as a sentence, each word of which is a control to type into. */
export function QuestionWords({
  question,
  shown,
  ask,
}: {
  question: Question;
  shown: ShownComparison;
  ask: (change: Partial<Question>) => void;
}) {
  const { drives, drills, rigs } = shown;
  const drive = drives.find(({ id }) => id === question.drive);
  const drill = drills.find(({ name }) => name === question.drill);
  const named = question.rigs?.flatMap((id) => rigs.find((rig) => rig.id === id) ?? []) ?? null;
  const against = rigs.find(({ id }) => id === question.against);
  const many = drive === undefined && drives.length > 1;
  const all =
    drives.length === 0
      ? "no drive yet"
      : drives.length === 1
        ? drives[0]!.name
        : counted(drives.length, "drive");
  const toggle = (id: string) => {
    if (id === "all") return ask({ rigs: null });
    const now = named?.map((rig) => rig.id) ?? [];
    const next = now.includes(id) ? now.filter((other) => other !== id) : [...now, id];
    ask({ rigs: next.length === 0 || next.length === rigs.length ? null : next });
  };
  return (
    <p className="font-serif text-[22px] leading-9 text-secondary">
      How {many ? "do" : "does"}{" "}
      <Word
        label="Drive"
        name="drive"
        shown={drive?.name ?? all}
        groups={[
          {
            heading: "drives of this study",
            items: [
              ...(drives.length > 1 ? [{ id: "all", text: "every drive" }] : []),
              ...drives.map(({ id, name }) => ({ id, text: name })),
            ],
          },
        ]}
        onPick={(id) => ask({ drive: id === "all" ? null : id })}
      />{" "}
      do{" "}
      <Word
        label="Drill"
        name="drill"
        shown={drill?.title ?? "every drill"}
        groups={[
          {
            heading: "drills that were done",
            items: [
              { id: "all", text: "every drill" },
              ...drills.map(({ name, title }) => ({ id: name, text: title })),
            ],
          },
        ]}
        onPick={(id) => ask({ drill: id })}
      />{" "}
      through{" "}
      <Word
        label="Rigs"
        name="rigs"
        shown={
          named === null
            ? rigs.length <= 1
              ? rigs.length === 0
                ? "no rig yet"
                : "its rig"
              : `all ${rigs.length} rigs`
            : named.length === 1
              ? `rig ${named[0]!.letter}`
              : named.length <= 5
                ? `rigs ${named.map(({ letter }) => letter).join(", ")}`
                : counted(named.length, "rig")
        }
        groups={[
          {
            heading: "rigs: pick again to take one off",
            items: [
              { id: "all", text: "all rigs" },
              ...rigs.map(({ id, letter, name }) => ({
                id,
                text: `${named?.some((rig) => rig.id === id) ? "✓ " : ""}${letter}  ${name}`,
              })),
            ],
          },
        ]}
        onPick={toggle}
      />
      ,{" "}
      <Word
        label="Direction"
        name="direction"
        shown={DIRECTIONS[question.direction]}
        groups={[
          {
            heading: "direction",
            items: Object.entries(DIRECTIONS).map(([id, text]) => ({ id, text })),
          },
        ]}
        onPick={(id) => ask({ direction: id as Question["direction"] })}
      />
      , against{" "}
      <Word
        label="Against"
        name="against"
        shown={
          against
            ? `rig ${against.letter}`
            : question.against === "claim"
              ? "what is claimed"
              : "the link ceiling"
        }
        groups={[
          {
            heading: "what a figure is held against",
            items: [
              { id: "ceiling", text: "the link ceiling" },
              { id: "claim", text: "what is claimed" },
            ],
          },
          {
            heading: "a rig as the baseline",
            items: rigs.map(({ id, letter, name }) => ({ id, text: `rig ${letter}`, hint: name })),
          },
        ]}
        onPick={(id) => ask({ against: id })}
      />
      ?
    </p>
  );
}

const Word = (props: {
  label: string;
  name: string;
  shown: string;
  groups: readonly Choices[];
  onPick: (id: string) => void;
}) => <Combobox plain className="word-control max-w-[28rem] truncate align-bottom" {...props} />;
