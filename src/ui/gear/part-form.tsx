"use client";

import { useState } from "react";
import { useForm, useWatch, type FieldPath, type Resolver } from "react-hook-form";
import { PART_KIND_NAMES, PartDraft } from "@/core/chain/part";
import { bestMode } from "@/core/chain/link";
import { readEntry } from "@/core/gear/entry";
import { GEAR_KINDS, partOfKind, type GearKind } from "@/core/gear/gear-kind";
import { impossibleClaim } from "@/core/judge/impossible";
import { plainWords } from "@/core/units/plain-words";
import { formatCapacity, parseSize } from "@/core/units/size";
import { Fold } from "../controls/fold";
import { Button, Field, Form, Input, Trouble } from "../controls/form";
import { send } from "../controls/send";
import { saySaved } from "../controls/toast";
import { PhotoEditor } from "../photos/photo-editor";
import { UnderstoodClaims } from "./claims-line";
import { ConnectorsEditor } from "./connectors-editor";
import { rememberCurrency } from "./currency";
import { GearPicker, plainName } from "./gear-picker";
import { draftFrom, errorsOf, typedClaims, typedFrom, type TypedPart } from "./part-draft";
import { PartDetails } from "./part-details";
import { useGearKinds } from "./use-gear-kinds";

const UNCLEAR = "answer what is asked of it, or remove it";

/** What is wrong with a part as typed, by the field it belongs to. */
function wrongIn(typed: TypedPart): Record<string, string> {
  const parsed = PartDraft.safeParse(draftFrom(typed), { error: plainWords });
  const issues = parsed.error?.issues ?? [];
  const wrong = errorsOf(issues.map(({ path, message }) => ({ path: path.join("."), message })));
  return typedClaims(typed).doubts.length > 0 ? { claims: UNCLEAR, ...wrong } : wrong;
}

const resolver: Resolver<TypedPart> = (typed) => {
  const wrong = Object.entries(wrongIn(typed));
  if (wrong.length === 0) return { values: typed, errors: {} };
  const errors = wrong.map(([name, message]) => [name, { type: "refused", message }]);
  return { values: {}, errors: Object.fromEntries(errors) as never };
};

/** A capacity in both ways of counting, as it is typed; how to write one where it is none. */
function bothSizes(typed: string): string {
  try {
    const { label, counted } = formatCapacity(parseSize(typed));
    return `${label} = ${counted}`;
  } catch {
    return "for example 1TB or 512GiB";
  }
}

/** Enters or changes one part: what it is, its name, what is printed on it. What is typed stays until it is stored. */
export function PartForm({
  id,
  initial,
  onSaved,
}: {
  /** The part to change; null enters a new one. */
  id: string | null;
  initial: TypedPart;
  onSaved: (id: string) => void;
}) {
  const form = useForm<TypedPart>({ defaultValues: initial, resolver, mode: "onSubmit" });
  const typed = useWatch({ control: form.control }) as TypedPart;
  const { isSubmitting, submitCount } = form.formState;
  const errors = submitCount > 0 ? wrongIn(typed) : {};
  const [refused, setRefused] = useState<Record<string, string>>({});
  const [trouble, setTrouble] = useState<string | null>(null);
  /** What it is, as it was chosen. */
  const [chosen, setChosen] = useState("");
  const [sources, setSources] = useState<readonly string[]>([]);
  /** How often it was asked what the part supports: the fold opens for it. */
  const [asked, setAsked] = useState(0);
  /** Whether the tester was told that somebody changed it meanwhile, and writes over that. */
  const [over, setOver] = useState(false);
  const kinds = useGearKinds(id ? initial.kind : null);
  const error = (name: string) => errors[name] ?? refused[name];
  const bind = (name: FieldPath<TypedPart>) => ({
    ...form.register(name),
    "aria-invalid": error(name) ? true : undefined,
  });
  const put = (part: Partial<TypedPart>) => {
    for (const [name, value] of Object.entries(part))
      form.setValue(name as FieldPath<TypedPart>, value, { shouldDirty: true });
  };

  /** Takes a kind of gear; of the words typed to find it what it is called, and what is printed on it. */
  function choose(kind: GearKind, words: string) {
    // A word that only another part of the shelf has is a name here.
    const said = readEntry(words, kind.like ? kinds : GEAR_KINDS);
    const like = kind.like && typedFrom({ ...PartDraft.parse(partOfKind({ ...kind })), name: "" });
    const name = typed.name && typed.name !== chosen ? typed.name : said.name || plainName(kind);
    put({
      ...(id ? {} : like),
      kind: kind.kind,
      connectors: kind.connectors,
      ...(id ? {} : { name }),
      claims: said.claims || typed.claims || (like ? like.claims : ""),
    });
    setChosen(plainName(kind) || kind.what);
    setSources(kind.sources);
    if (kind.connectors.every(({ modes }) => modes.length === 0)) setAsked(asked + 1);
    form.setFocus("name");
  }

  function refuse() {
    setTrouble("Some fields need another look; nothing was stored yet.");
    const isOdd = Object.keys(wrongIn(form.getValues())).some((at) => at.startsWith("connectors"));
    if (isOdd) setAsked(asked + 1);
  }

  async function save(said: TypedPart) {
    const draft = draftFrom(said);
    const sent = id
      ? await send("PUT", `/api/parts/${id}`, {
          ...draft,
          was: over ? undefined : draftFrom(initial),
        })
      : await send<{ id: string; name: string }>("POST", "/api/parts", draft);
    if (!sent.ok) {
      setOver(sent.error.code === "changed");
      setRefused(errorsOf(sent.error.fields));
      return setTrouble(sent.error.message);
    }
    if (said.price) rememberCurrency(said.currency);
    const made = sent.data as { id: string; name: string };
    saySaved(id ? `${draft.name} saved.` : `${made.name} is on the shelf.`);
    onSaved(id ?? made.id);
  }

  const draft = PartDraft.safeParse(draftFrom(typed));
  const warnings = draft.success
    ? draft.data.claims.flatMap((claim) => impossibleClaim(draft.data, claim))
    : [];

  return (
    <Form onSend={form.handleSubmit(save, refuse)}>
      <div className="grid gap-3 sm:grid-cols-2">
        <Field
          label={id ? `What is it? (a ${PART_KIND_NAMES[typed.kind]})` : "What is it?"}
          hint={id ? "choose again for what is usual for its kind" : "type any words of it"}
        >
          <GearPicker
            kinds={kinds}
            shown={chosen || (id ? "as it was entered" : "")}
            onPick={choose}
          />
        </Field>
        <Field label="Name" hint="as you call this one item" error={error("name")}>
          <Input {...bind("name")} />
        </Field>
        <div className="sm:col-span-2">
          <Field
            label="Claims, as printed"
            hint="for example: up to 2800/2400 MB/s, 550k IOPS, sustained 900 MB/s write"
            error={error("claims")}
          >
            <Input {...bind("claims")} />
          </Field>
          <UnderstoodClaims read={typedClaims(typed)} onLine={(claims) => put({ claims })} />
        </div>
        {typed.kind === "drive" && (
          <Field label="Capacity" hint={bothSizes(typed.capacity)} error={error("capacity")}>
            <Input {...bind("capacity")} />
          </Field>
        )}
        {typed.kind === "cable" && (
          <Field label="Length" hint="metres, where known" error={error("length")}>
            <Input inputMode="decimal" {...bind("length")} />
          </Field>
        )}
        <Field label="Tag on the item" hint="for example: blue tape" error={error("tag")}>
          <Input {...bind("tag")} />
        </Field>
      </div>
      <Fold
        key={`modes-${asked}`}
        open={asked > 0}
        className="text-sm"
        summary={
          <>
            What exactly it supports
            <span className="text-secondary">{supported(typed)}</span>
          </>
        }
      >
        <div className="mt-2 space-y-3">
          {sources.length > 0 && (
            <p className="text-[13px] text-secondary">
              As usual for this kind: {sources.join("; ")}.
            </p>
          )}
          <ConnectorsEditor
            kind={typed.kind}
            value={typed.connectors}
            onChange={(connectors) => put({ connectors })}
            errors={errors}
          />
        </div>
      </Fold>
      <PartDetails kind={typed.kind} bind={bind} error={error} />
      <Fold
        open={typed.photos.length > 0}
        className="text-sm"
        summary="Pictures: the opened box, its chip, a damage"
      >
        <PhotoEditor photos={typed.photos} onChange={(photos) => put({ photos })} />
      </Fold>
      {warnings.map((warning) => (
        <Trouble key={warning}>{warning}</Trouble>
      ))}
      {trouble && <Trouble>{trouble}</Trouble>}
      <div className="flex justify-end gap-2">
        <Button main type="submit" disabled={isSubmitting}>
          {id ? "Save the part" : "Add it to the shelf"}
        </Button>
      </div>
    </Form>
  );
}

const TOWARDS = {
  up: "towards the host",
  down: "towards the drive",
  through: "through it",
} as const;

/** The best mode of each connector, in words; empty where nothing is said yet. */
function supported({ connectors }: TypedPart): string {
  const said = connectors.flatMap(({ side, modes }) => {
    const best = bestMode(modes);
    return best ? [`${best.name} ${TOWARDS[side]}`] : [];
  });
  return said.length > 0 ? `: ${said.join(", ")}` : "";
}
