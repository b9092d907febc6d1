"use client";

import { Check } from "lucide-react";
import { DropdownMenu } from "radix-ui";
import { useRouter, useSearchParams } from "next/navigation";
import { createContext, useContext, type ReactNode } from "react";
import { ratesIn, type RateWords } from "@/core/units/number";
import { RateUnit } from "@/core/units/rate";
import { DATE_STYLES, NUMBER_STYLES, writing } from "@/core/units/writing";
import { ITEM, SHEET } from "../controls/look";
import { UNIT_COOKIE } from "./unit-cookie";
import { chooseWriting } from "./writing";

const Unit = createContext<RateUnit>("MB/s");

/** The unit of all rates below it. */
export function UnitProvider({ unit, children }: { unit: RateUnit; children: ReactNode }) {
  return <Unit value={unit}>{children}</Unit>;
}

/** The unit in which rates are shown: that of the address, or the reader's own. */
export function useUnit(): RateUnit {
  const own = useContext(Unit);
  const said = RateUnit.safeParse(useSearchParams().get("unit"));
  return said.success ? said.data : own;
}

/** How rates are written for whoever looks at the page. */
export const useRates = (): RateWords => ratesIn(useUnit());

const YEAR = 365 * 86_400;

/** Shows every rate in another unit, and remembers it in this browser. */
export function useChooseUnit(): (unit: string) => void {
  const router = useRouter();
  const query = useSearchParams();
  return (next) => {
    document.cookie = `${UNIT_COOKIE}=${encodeURIComponent(next)}; path=/; max-age=${YEAR}; samesite=lax`;
    if (!query.has("unit")) return router.refresh();
    const rest = new URLSearchParams(query);
    rest.set("unit", next);
    router.replace(`${window.location.pathname}?${rest}`, { scroll: false });
    router.refresh();
  };
}

/** The unit of every rate, and how numbers and days are written, to be chosen. */
export function UnitSwitch() {
  const unit = useUnit();
  const choose = useChooseUnit();
  const { numbers, dates } = writing();
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger
        aria-label={`Unit of rates: ${unit}; how numbers and days are written`}
        className="figure rounded-sm px-1 text-sm text-secondary hover:text-ink hover:underline"
      >
        {unit}
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content align="end" sideOffset={4} className={`z-40 min-w-44 p-1 ${SHEET}`}>
          <Choice name="Rates" value={unit} options={RateUnit.options} onChoose={choose} />
          <Choice
            name="Numbers"
            value={numbers}
            options={Object.keys(NUMBER_STYLES)}
            onChoose={(next) => chooseWriting({ numbers: next })}
          />
          <Choice
            name="Days"
            value={dates}
            options={DATE_STYLES}
            onChoose={(next) => chooseWriting({ dates: next })}
          />
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  );
}

function Choice({
  name,
  value,
  options,
  onChoose,
}: {
  name: string;
  value: string;
  options: readonly string[];
  onChoose: (next: string) => void;
}) {
  return (
    <DropdownMenu.RadioGroup value={value} onValueChange={onChoose} aria-label={name}>
      <DropdownMenu.Label className="px-2 pt-2 text-sm text-secondary">{name}</DropdownMenu.Label>
      {options.map((option) => (
        <DropdownMenu.RadioItem
          key={option}
          value={option}
          className={`figure flex items-center justify-between gap-4 ${ITEM}`}
        >
          {option}
          <DropdownMenu.ItemIndicator>
            <Check size={14} aria-hidden />
          </DropdownMenu.ItemIndicator>
        </DropdownMenu.RadioItem>
      ))}
    </DropdownMenu.RadioGroup>
  );
}
