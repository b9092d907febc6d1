"use client";

import { DRILLS, drillNamed } from "@/core/drills/catalogue";
import { WATCHED } from "@/core/drills/kinds/watched";
import { asWay, type DrillDirection } from "@/core/drills/kind";
import { letterOf } from "@/core/answer/lettered-rig";
import type { Rig } from "@/core/chain/rig";
import { Field } from "../controls/form";
import { Select } from "../controls/select";
import { WAYS } from "../measure/form/ways";

/** Drills whose results can be noted; what is done again has to be here. */
const NOTED = DRILLS.filter(({ recorded }) => !recorded);

/** What a result from elsewhere is of: which rig, which drill, which way. */
export interface Of {
  rigId: string;
  drill: string;
  direction: DrillDirection;
}

/** The rig, drill and direction that a result is of. */
export function DrillChoice({
  of,
  rigs,
  jobs = false,
  recorded = false,
  onChange,
}: {
  of: Of;
  /** Null where the rig is known already. */
  rigs: readonly Rig[] | null;
  /** Whether a job that other programs did can be chosen, too. */
  jobs?: boolean;
  /** Whether work that was recorded can be done again, too. */
  recorded?: boolean;
  onChange: (of: Of) => void;
}) {
  const { directions } = drillNamed(of.drill);
  return (
    <div className="grid grid-cols-[repeat(auto-fit,minmax(min(180px,100%),1fr))] gap-3">
      {rigs && (
        <Field label="Rig">
          <Select
            name="of-rig"
            value={of.rigId}
            options={rigs.map((rig, i) => ({
              value: rig.id,
              text: `${letterOf(i)} · ${rig.name}`,
            }))}
            onChange={(rigId) => onChange({ ...of, rigId })}
          />
        </Field>
      )}
      <Field label="Drill">
        <Select
          name="of-drill"
          value={of.drill}
          options={[
            ...(recorded ? DRILLS : NOTED).map(({ name, title, what }) => ({
              value: name,
              text: `${title}: ${what}`,
            })),
            ...(jobs ? [{ value: WATCHED.name, text: "A job that another program did" }] : []),
          ]}
          onChange={(drill) => {
            onChange({ ...of, drill, direction: asWay(drillNamed(drill), of.direction) });
          }}
        />
      </Field>
      <Field label="Direction">
        <Select
          name="of-direction"
          value={of.direction}
          options={directions.map((way) => ({ value: way, text: WAYS[way] }))}
          onChange={(way) => way !== "" && onChange({ ...of, direction: way })}
        />
      </Field>
    </div>
  );
}
