import { randomUUID } from "node:crypto";
import * as z from "zod";
import { PART_KIND_NAMES, PartDraft, type Part } from "@/core/chain/part";
import { RigDraft, rigProblems, type Rig } from "@/core/chain/rig";
import { defineFrom, type Drill } from "@/core/drills/drill";
import type { Figure } from "@/core/elsewhere/figure";
import { SaidColumn } from "@/core/elsewhere/column";
import { readGrid, type Grid, type GridRow } from "@/core/elsewhere/grid";
import type { GridPreview, RowPlan } from "@/core/elsewhere/preview";
import { linkProblems } from "@/core/chain/bottleneck";
import { UNSAID } from "@/core/run/stated";
import type { Store } from "@/store/database";
import * as partRows from "@/store/parts";
import * as studyRows from "@/store/studies";
import { checked, checkedBy, Problem } from "../problem";
import { openStudy, rigOf } from "../studies/studies";
import { rigOfStudy, type Taken } from "./taken";
import { takeLadder } from "./ladder";
import { insertFigures, statedRequests } from "./typed";

/** Shows what a pasted grid would become. Nothing is taken. */
export function previewGrid(store: Store, studyId: string, input: unknown): GridPreview {
  const { text, columns } = checked(GridText, input);
  return planned(store, studyId, readGrid(text, columns));
}

const GridText = z.object({
  text: z.string().max(2_000_000, "is longer than any grid"),
  /** For lines that name no rig of the study: which rig each is; "" leaves the line out. */
  rigs: z.record(z.string(), z.string()).default({}),
  /** For columns that are something else than their heads were understood as; null leaves one out. */
  columns: z.record(z.string(), SaidColumn.nullable()).default({}),
  /** Of a whole ladder: the rig that it is of, and what all of its steps have in common. */
  rigId: z.string().default(""),
  common: z.number().nullable().default(null),
});

function planned(store: Store, studyId: string, grid: Grid): GridPreview {
  const { rigs } = openStudy(store, studyId);
  const shelf = partRows.listParts(store).filter(({ retired, demo }) => !retired && !demo);
  return { ...grid, plans: grid.rows.map((row) => planRow(row, rigs, shelf)) };
}

const plain = (name: string) =>
  name
    .toLowerCase()
    .replace(/[\s·,_-]+/g, " ")
    .trim();

function planRow(row: GridRow, rigs: readonly Rig[], shelf: readonly Part[]): RowPlan {
  const byName = rigs.filter(({ name }) => row.name && plain(name) === plain(row.name));
  const letter = /^[A-Z]{1,2}$/.test(row.name) ? rigs[letterAt(row.name)] : undefined;
  const named = byName[0] ?? letter;
  if (named) return { kind: "rig", rigId: named.id, name: named.name };
  if (row.parts.length === 0) return byWhatDiffers(row.name, rigs);
  const ofParts = rigs.find(
    ({ parts }) =>
      parts.length === row.parts.length &&
      parts.every((part, i) => plain(part.name) === plain(row.parts[i]!.name)),
  );
  if (ofParts) return { kind: "rig", rigId: ofParts.id, name: ofParts.name };
  // A row may name only what changes from rig to rig.
  const isWhole = ["host-port", "drive"].every((end) => row.parts.some(({ kind }) => kind === end));
  if (!isWhole) {
    const named = row.parts.map(({ name }) => name).join(", ");
    const having = rigs.filter((rig) =>
      row.parts.every(({ name }) => rig.parts.some((part) => plain(part.name) === plain(name))),
    );
    const [only, other] = having;
    if (only && !other) return { kind: "rig", rigId: only.id, name: only.name };
    return {
      kind: "unknown",
      why: other
        ? `${having.length} rigs of this study have ${named}`
        : `no rig of this study has ${named}, and a rig needs a host port and a drive`,
    };
  }
  const pattern = rigs[0]?.parts ?? [];
  const parts = row.parts.map(({ kind, name }) => {
    const found = shelf.find((part) => part.kind === kind && plain(part.name) === plain(name));
    // What is not on the shelf is made like the part of its kind in the first rig.
    const like =
      pattern.find((part) => part.kind === kind) ?? shelf.find((part) => part.kind === kind);
    return { name, partId: found?.id ?? null, like: found ? null : (like?.id ?? null) };
  });
  const missing = parts.find(({ partId, like }) => partId === null && like === null);
  if (missing) {
    return {
      kind: "unknown",
      why: `${missing.name} is not on the shelf, nor is anything of its kind`,
    };
  }
  return { kind: "make", name: row.name || row.parts.map(({ name }) => name).join(" · "), parts };
}

/**
 * The rig that a row means which names only what changes from rig to rig: "K2", "cable K2", "Serac + K5". Each
 * piece is a part's name or its tag, with or without its kind before it.
 */
function byWhatDiffers(name: string, rigs: readonly Rig[]): RowPlan {
  const pieces = name
    .split(/\s*(?:[+·,;&/]|\band\b|\bwith\b)\s*/i)
    .map(plain)
    .filter(Boolean);
  const isCalled = ({ kind, name: called, tag }: Part, piece: string) =>
    [called, tag, `${PART_KIND_NAMES[kind]} ${called}`].some((one) => one && plain(one) === piece);
  const having = rigs.filter((rig) =>
    pieces.every((piece) => rig.parts.some((part) => isCalled(part, piece))),
  );
  const [only, other] = pieces.length > 0 ? having : [];
  if (only && !other) return { kind: "rig", rigId: only.id, name: only.name };
  const why = other
    ? `${having.length} rigs of this study have ${name}`
    : `no rig of this study is called "${name}", and none has a part of that name`;
  return { kind: "unknown", why };
}

const letterAt = (letters: string) =>
  [...letters].reduce((sum, letter) => sum * 26 + letter.charCodeAt(0) - 64, 0) - 1;

/** Takes a grid in, all of it or nothing. @throws Problem that names the first line that cannot be */
export function takeGrid(store: Store, studyId: string, input: unknown): Taken {
  const { text, rigs: chosen, columns, rigId, common } = checked(GridText, input);
  const grid = planned(store, studyId, readGrid(text, columns));
  const [first] = grid.problems;
  if (first) {
    throw new Problem(
      422,
      `Line ${first.line}, column ${first.column}: ${first.text ? `"${first.text}" ` : ""}${first.problem}. Nothing was taken.`,
    );
  }
  if (grid.ladder)
    return takeLadder(store, rigOfStudy(store, studyId, rigId), studyId, grid.ladder, common);
  return store.transaction(() => {
    const taken: Taken = { measurementIds: [], rigIds: [], partIds: [] };
    const made = new Map<string, string>();
    const figures = new Map<string, { rig: Rig; drill: Drill; of: Figure[] }>();
    grid.rows.forEach((row, i) => {
      const plan = grid.plans[i]!;
      const choice = chosen[String(row.line)];
      if (choice === "") return;
      const rigId =
        choice ??
        (plan.kind === "rig"
          ? plan.rigId
          : plan.kind === "make"
            ? makeRig(store, studyId, plan, made, taken)
            : null);
      if (rigId === null) {
        throw new Problem(
          422,
          `Line ${row.line}: ${(plan as { why: string }).why}. Say which rig it is, or leave it out. Nothing was taken.`,
        );
      }
      const rig = rigOfStudy(store, studyId, rigId);
      for (const { column, figure } of row.cells) {
        const { drill: name, direction, block, depth } = column;
        const key = [rigId, name, direction, block, depth].join(" ");
        const set = statedRequests(block, depth);
        const known = figures.get(key) ?? {
          rig,
          drill: checkedBy(() => defineFrom({ name, direction, ...set }, null)),
          of: [],
        };
        known.of.push(figure);
        figures.set(key, known);
      }
    });
    if (figures.size === 0) throw new Problem(422, "There is no figure in it.");
    for (const { rig, drill, of } of figures.values()) {
      const id = randomUUID();
      const whole = { ...drill, repeats: Math.min(of.length, 50) };
      const kept = { id, source: "pasted grid", stated: UNSAID };
      insertFigures(store, studyId, { rig, drill: whole, figures: of }, kept);
      taken.measurementIds.push(id);
    }
    return taken;
  });
}

function makeRig(
  store: Store,
  studyId: string,
  plan: Extract<RowPlan, { kind: "make" }>,
  made: Map<string, string>,
  taken: Taken,
): string {
  const at = new Date().toISOString();
  const shelf = partRows.getParts(
    store,
    plan.parts.flatMap(({ partId, like }) => partId ?? like ?? []),
  );
  const partIds = plan.parts.map(({ name, partId, like }) => {
    if (partId) return partId;
    const pattern = shelf.get(like!)!;
    const key = `${pattern.kind} ${plain(name)}`;
    if (!made.has(key)) {
      const id = randomUUID();
      const draft = PartDraft.parse({
        kind: pattern.kind,
        name,
        connectors: pattern.connectors,
        notes: `Made for a pasted grid, with the connectors of ${pattern.name}: check them.`,
      });
      partRows.insertPart(store, id, draft, at);
      made.set(key, id);
      taken.partIds.push(id);
    }
    return made.get(key)!;
  });
  const draft = checked(RigDraft, { name: plan.name.slice(0, 80), partIds });
  const there = partRows.getParts(store, partIds);
  const rig = rigOf("new", draft, (id) => there.get(id));
  const problems = [...rigProblems(rig), ...(rigProblems(rig).length ? [] : linkProblems(rig))];
  if (problems[0]) throw new Problem(422, `${plan.name}: ${problems[0]} Nothing was taken.`);
  const id = randomUUID();
  studyRows.insertRig(store, studyId, id, draft, at);
  taken.rigIds.push(id);
  return id;
}
