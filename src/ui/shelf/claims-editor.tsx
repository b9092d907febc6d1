"use client";

import { overName } from "@/core/chain/claim";
import { findMode } from "@/core/ledger/catalogue";
import { Button, Input } from "../controls/form";
import { DIRECTIONS, Select } from "../controls/select";
import type { TypedClaim } from "./part-draft";

const KINDS: Record<TypedClaim["kind"], { name: string; unit: string }> = {
  peak: { name: "peak throughput", unit: "MB/s" },
  sustained: { name: "sustained throughput", unit: "MB/s" },
  link: { name: "link class", unit: "Gb/s" },
  iops: { name: "small requests", unit: "a second" },
};

const KIND_OPTIONS = (Object.keys(KINDS) as TypedClaim["kind"][]).map((kind) => ({
  value: kind,
  text: KINDS[kind].name,
}));

/** What the box and the data sheet promise, line by line as printed. */
export function ClaimsEditor({
  value,
  modes,
  onChange,
  errors,
}: {
  value: TypedClaim[];
  /** What the part's link can run, by the ids of modes: a claim may hold over one of them only. */
  modes: readonly string[];
  onChange: (claims: TypedClaim[]) => void;
  /** What is wrong, by "claims.0" and so on. */
  errors: Record<string, string>;
}) {
  const change = (i: number, part: Partial<TypedClaim>) =>
    onChange(value.with(i, { ...value[i]!, ...part }));
  return (
    <fieldset className="border border-line px-3 pb-2">
      <legend className="px-1 text-sm font-medium">Claims, as printed</legend>
      <ul className="space-y-1">
        {value.map((claim, i) => (
          <li key={i} className="flex flex-wrap items-center gap-1.5 text-sm">
            <Select
              label={`Kind of claim ${i + 1}`}
              className="!w-auto"
              value={claim.kind}
              options={KIND_OPTIONS}
              onChange={(kind) => kind && change(i, { kind })}
            />
            {claim.kind !== "link" && (
              <Select
                label={`Direction of claim ${i + 1}`}
                className="!w-auto"
                value={claim.direction}
                options={DIRECTIONS}
                onChange={(direction) => direction && change(i, { direction })}
              />
            )}
            <Input
              aria-label={`Figure of claim ${i + 1}`}
              name={`claim-${i}`}
              inputMode="decimal"
              className="figure !w-24"
              value={claim.value}
              aria-invalid={errors[`claims.${i}`] ? true : undefined}
              onChange={(event) => change(i, { value: event.target.value })}
            />
            <span>{KINDS[claim.kind].unit}</span>
            {claim.kind !== "link" && (
              <PrintedFor
                number={i + 1}
                claim={claim}
                modes={modes}
                onChange={(part) => change(i, part)}
              />
            )}
            <Button
              aria-label={`Remove claim ${i + 1}`}
              className="!px-1.5 !py-0"
              onClick={() => onChange(value.toSpliced(i, 1))}
            >
              ✕
            </Button>
            {errors[`claims.${i}`] && (
              <span className="font-semibold" role="alert">
                ✕ {errors[`claims.${i}`]}
              </span>
            )}
          </li>
        ))}
      </ul>
      <div className="mt-1 flex flex-wrap gap-x-4 text-sm">
        {Object.entries(KINDS).map(([kind, { name }]) => (
          <button
            key={kind}
            type="button"
            className="underline"
            onClick={() => onChange([...value, next(value, kind as TypedClaim["kind"])])}
          >
            Add a claim of {name}
          </button>
        ))}
      </div>
    </fieldset>
  );
}

/** The link, the size and the number in flight that a claim was printed for. */
function PrintedFor({
  number,
  claim: { over, block, depth },
  modes,
  onChange,
}: {
  number: number;
  claim: TypedClaim;
  modes: readonly string[];
  onChange: (part: Partial<TypedClaim>) => void;
}) {
  const known = modes.flatMap((id) => findMode(id) ?? []);
  const links = [...new Set([...known.flatMap(({ family, id }) => [family, id]), over])];
  return (
    <>
      <span>over</span>
      <Select
        label={`Link of claim ${number}`}
        className="!w-auto max-w-36"
        value={over}
        options={[
          { value: "", text: "any link" },
          ...links.filter(Boolean).map((id) => ({ value: id, text: overName(id) })),
        ]}
        onChange={(link) => onChange({ over: link })}
      />
      <Input
        aria-label={`Block of claim ${number}`}
        name={`claim-block-${number - 1}`}
        className="figure !w-24 text-[13px]"
        placeholder="any block"
        value={block}
        onChange={(event) => onChange({ block: event.target.value })}
      />
      <Input
        aria-label={`In flight of claim ${number}`}
        name={`claim-depth-${number - 1}`}
        className="figure !w-14 text-[13px]"
        placeholder="any"
        inputMode="numeric"
        value={depth}
        onChange={(event) => onChange({ depth: event.target.value })}
      />
      <span>in flight</span>
    </>
  );
}

/** Reading first; where that is claimed already, writing. */
function next(claims: readonly TypedClaim[], kind: TypedClaim["kind"]): TypedClaim {
  const reads = claims.some((claim) => claim.kind === kind && claim.direction === "read");
  return {
    kind,
    direction: reads ? "write" : "read",
    value: "",
    over: "",
    block: "",
    depth: "",
  };
}
