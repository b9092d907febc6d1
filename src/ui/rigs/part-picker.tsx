"use client";

import { useParams } from "next/navigation";
import { useMemo, useRef, useState } from "react";
import { whyNot, type Place } from "@/core/chain/fit";
import { PART_KIND_NAMES, type Part, type PartKind } from "@/core/chain/part";
import { enteredPart, readEntry } from "@/core/gear/entry";
import { GEAR_KINDS, type GearKind } from "@/core/gear/gear-kind";
import { Combobox, type Choice } from "../controls/combobox";
import { Dialog } from "../controls/dialog";
import { send } from "../controls/send";
import { sayFailed, saySaved } from "../controls/toast";
import { usualCurrency } from "../gear/currency";
import { emptyPart, typedFrom, type TypedPart } from "../gear/part-draft";
import { PartForm } from "../gear/part-form";

interface Found {
  fits: Part[];
  cannot: { part: Part; why: string }[];
  total: number;
}

/** Kinds of gear that are offered at once: typing narrows them down. */
const MOST_KINDS = 12;

/** Stands for a part that is yet to be entered. */
const NEW = "new";

const NOTHING: Found = { fits: [], cannot: [], total: 0 };

/** Picks a part of the shelf for a place in a chain: first what can stand there, then why others cannot. */
export function PartPicker({
  label,
  name,
  shown,
  before,
  after,
  open = false,
  kinds = [],
  except = [],
  plain = false,
  onPick,
  className,
}: {
  label: string;
  name?: string;
  shown: string;
  before: readonly Part[];
  after: readonly Part[];
  /** Whether parts before it are still to come. */
  open?: boolean;
  /** Parts that stand there already. */
  except?: readonly Part[];
  /** Kinds to choose from; all of them where none is named. */
  kinds?: PartKind[];
  /** Looks like a word, not like a field. */
  plain?: boolean;
  onPick: (part: Part) => void;
  className?: string;
}) {
  const [found, setFound] = useState(NOTHING);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [busy, setBusy] = useState(false);
  const [sought, setSought] = useState("");
  /** The part that is being entered in the form; null where none is. */
  const [entering, setEntering] = useState<TypedPart | null>(null);
  const isElsewhere = ({ id }: Part) => except.every((part) => part.id !== id);
  const nextKind = before.length === 0 ? "host-port" : "cable";
  const latest = useRef(0);
  const { id: study } = useParams<{ id?: string }>();
  const ids = (parts: readonly Part[]) => parts.map(({ id }) => id);

  async function look(sought: string) {
    setSought(sought);
    const asked = ++latest.current;
    setBusy(true);
    const query = { before: ids(before), after: ids(after), open, kinds, sought, study };
    const sent = await send<Found>("POST", "/api/parts/fitting", query);
    if (asked !== latest.current) return; // an answer to what was typed before
    setBusy(false);
    setTrouble(sent.ok ? null : sent.error.message);
    if (sent.ok) setFound(sent.data);
  }

  async function take(id: string) {
    if (id === NEW) return setEntering(emptyPart(kinds[0] ?? nextKind, usualCurrency()));
    const sold = everyday.find((kind) => id === `everyday:${kind.id}`);
    if (!sold) {
      const part = found.fits.find((candidate) => candidate.id === id);
      return part && onPick(part);
    }
    const { draft, doubts } = enteredPart(sold, entry.name, entry.claims);
    // What is not clear is asked in the form, never guessed.
    if (doubts.length > 0) return setEntering({ ...typedFrom(draft), claims: entry.claims });
    const sent = await send<Part>("POST", "/api/parts", draft);
    if (!sent.ok) return sayFailed(sent.error.message);
    saySaved(`${sent.data.name} is on the shelf.`);
    onPick(sent.data);
  }

  /** The part that has just been entered, as the shelf has it. */
  async function takeEntered(id: string) {
    setEntering(null);
    const query = { before: ids(before), after: ids(after), open, kinds, sought: "", id };
    const sent = await send<Found>("POST", "/api/parts/fitting", query);
    if (!sent.ok) return sayFailed(sent.error.message);
    const [part] = sent.data.fits;
    if (part) return onPick(part);
    sayFailed(
      `It is on the shelf, and cannot stand here: ${sent.data.cannot[0]?.why ?? "it does not fit"}`,
    );
  }

  const { entry, everyday } = useSold(sought, kinds, { before, after, open });
  return (
    <>
      <Combobox
        label={label}
        name={name}
        shown={shown}
        className={className}
        plain={plain}
        groups={[
          { heading: "can stand here", items: found.fits.filter(isElsewhere).map(choice) },
          {
            heading: "not on the shelf yet",
            // While the shelf is searched these would stand first, and be taken by mistake.
            items: busy
              ? []
              : [
                  ...everyday.map(({ id, kind, what, detail }) => ({
                    id: `everyday:${id}`,
                    text: `${PART_KIND_NAMES[kind]}: a new ${what}`,
                    hint: [detail, entry.name && `called ${entry.name}`, entry.claims]
                      .filter(Boolean)
                      .join("; "),
                  })),
                  { id: NEW, text: "Enter a new part ..." },
                ],
          },
          {
            heading: "cannot stand here",
            items: found.cannot.map(({ part, why }) => ({ ...choice(part), why })),
          },
        ]}
        onSearch={look}
        busy={busy}
        note={
          trouble ??
          (found.total > found.fits.length
            ? `${found.fits.length} of ${found.total} that fit; type to narrow them down`
            : undefined)
        }
        onPick={(id) => void take(id)}
      />
      <Dialog
        title="A part for the shelf"
        open={entering !== null}
        onOpenChange={(open) => !open && setEntering(null)}
      >
        {entering && <PartForm id={null} initial={entering} onSaved={takeEntered} />}
      </Dialog>
    </>
  );
}

const choice = ({ id, kind, name, tag, maker, model }: Part): Choice => ({
  id,
  text: `${PART_KIND_NAMES[kind]}: ${name}`,
  hint: [tag, maker, model].filter(Boolean).join(", "),
});

/**
 * What was typed as a new part: where nothing on the shelf answers it says what that is, and which kinds of gear
 * can stand in the place.
 */
function useSold(sought: string, kinds: readonly PartKind[], place: Place) {
  const ids = (parts: readonly Part[]) => parts.map(({ id }) => id).join();
  const at = [ids(place.before), ids(place.after), place.open, kinds.join()].join("|");
  return useMemo(
    () => {
      const entry = readEntry(sought, GEAR_KINDS, kinds);
      const everyday = entry.kinds
        .filter((kind) => whyNot(place, partSold(kind)) === null)
        .slice(0, MOST_KINDS);
      return { entry, everyday };
    },
    // The place is the same while the parts beside it are.
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [sought, at],
  );
}

/** Every kind of gear as a part, made once. */
const sold = new Map<GearKind, Part>();

function partSold(kind: GearKind): Part {
  const known = sold.get(kind) ?? { ...enteredPart(kind, "", "").draft, id: "" };
  sold.set(kind, known);
  return known;
}
