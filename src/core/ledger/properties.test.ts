import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { Direction } from "../units/rate";
import { account, ownAssumptions, type LedgerAccount } from "./account";
import { findMode, MODES, modeOf } from "./catalogue";
import type { LinkMode } from "./mode";
import { OwnModeDraft, ownModeId } from "./own-mode";

/** What must hold of every account, whatever the mode, direction, protocol and assumptions. */

const anyMode = fc.constantFrom(...MODES);
const direction = fc.constantFrom(...Direction.options);

/** A mode with one of its protocols and allowed values for all of its assumptions. */
const setting = anyMode.chain((mode) =>
  fc.record({
    mode: fc.constant(mode),
    direction,
    transport: fc.constantFrom(...mode.transports.map(({ id }) => id)),
    assumptions: fc.record(
      Object.fromEntries(
        Object.entries(mode.assumptions).map(([name, { options }]) => [
          name,
          fc.constantFrom(...options),
        ]),
      ),
    ),
  }),
);

const carried = ({ rows }: LedgerAccount) => rows.map(({ mbps }) => mbps);

/** A link of the tester's own, such as the form takes it in. */
const ownDraft = fc
  .record({
    name: fc.stringMatching(/^[A-Za-z][A-Za-z0-9 ./]{0,20}[A-Za-z0-9]$/),
    rate: fc.integer({ min: 1, max: 400 }).map((tenths) => tenths / 10),
    lanes: fc.constantFrom(1, 2, 4, 8),
    code: fc.constantFrom("none", "8b/10b", "64b/66b", "128b/130b", "128b/132b"),
    payload: fc.integer({ min: 16, max: 9000 }),
    overhead: fc.integer({ min: 0, max: 200 }),
    duplex: fc.constantFrom("full", "half"),
    shared: fc.constantFrom("yes", "no"),
    protocol: fc.constantFrom("nvme", "usb-queued", "ahci"),
    low: fc.integer({ min: 10, max: 60 }).map((percent) => percent / 100),
    high: fc.integer({ min: 61, max: 100 }).map((percent) => percent / 100),
  })
  .map((draft) => OwnModeDraft.parse(draft));

describe("an account", () => {
  it("never gains a byte from one row to the next, and ends at its attainable rate", () => {
    fc.assert(
      fc.property(setting, ({ mode, direction, transport, assumptions }) => {
        const ledger = account(mode, direction, { transport, assumptions });
        const left = carried(ledger);
        for (const [i, mbps] of left.entries()) {
          expect(Number.isFinite(mbps)).toBe(true);
          // A symbol of three levels holds more than one bit, so that code gains on the transfers.
          const gains = ledger.rows[i]!.step === "line code" && mode.lineCode === "11b/7t";
          if (i > 0 && !gains) expect(mbps).toBeLessThanOrEqual(left[i - 1]! * (1 + 1e-12));
        }
        expect(ledger.attainable.low).toBeLessThan(ledger.attainable.high);
        expect(ledger.attainable.high).toBeLessThanOrEqual(ledger.hardCeiling * (1 + 1e-12));
        expect(left.at(-1)).toBeCloseTo(ledger.attainable.high, 6);
        expect(ledger.hardCeiling).toBeLessThanOrEqual(ledger.lineRate);
      }),
    );
  });

  it("multiplies up: each row's factor is what it leaves over what it found", () => {
    fc.assert(
      fc.property(setting, ({ mode, direction, transport, assumptions }) => {
        const { rows } = account(mode, direction, { transport, assumptions });
        for (const [i, { factor, mbps, step }] of rows.entries()) {
          if (i === 0 || factor === null || step === "transport") continue;
          expect(rows[i - 1]!.mbps * factor).toBeCloseTo(mbps, 6);
        }
      }),
    );
  });

  it("names a source in every row", () => {
    fc.assert(
      fc.property(setting, ({ mode, direction, transport, assumptions }) => {
        for (const { source, what } of account(mode, direction, { transport, assumptions }).rows) {
          expect(source.length).toBeGreaterThan(3);
          expect(what.length).toBeGreaterThan(2);
        }
      }),
    );
  });

  it("grows with the lanes, as far as nothing else is in the mode", () => {
    const wider = (mode: LinkMode, times: number): LinkMode => ({
      ...mode,
      lanes: mode.lanes * times,
      lanesByDirection: undefined,
    });
    const plain = MODES.filter(
      ({ framing, lanesByDirection }) =>
        !lanesByDirection && framing.every(({ kind }) => kind === "packet" || kind === "periodic"),
    );
    expect(plain.length).toBeGreaterThan(20);
    fc.assert(
      fc.property(
        fc.constantFrom(...plain),
        fc.integer({ min: 2, max: 16 }),
        direction,
        (mode, times, way) => {
          const [one, many] = [mode, wider(mode, times)].map((m) => account(m, way));
          expect(many!.hardCeiling / one!.hardCeiling).toBeCloseTo(times, 6);
        },
      ),
    );
  });

  it("loses what others hold, never more, and never falls below nothing", () => {
    fc.assert(
      fc.property(setting, fc.integer({ min: 0, max: 20_000 }), (one, held) => {
        const { mode, direction, transport, assumptions } = one;
        const free = account(mode, direction, { transport, assumptions });
        const busy = account(mode, direction, { transport, assumptions, held });
        expect(busy.hardCeiling).toBeLessThanOrEqual(free.hardCeiling);
        expect(busy.hardCeiling).toBeGreaterThanOrEqual(0);
        expect(busy.hardCeiling).toBeGreaterThanOrEqual(free.hardCeiling - held - 1e-9);
      }),
    );
  });

  it("is drawn up the same every time, and takes no assumption that the mode does not make", () => {
    fc.assert(
      fc.property(setting, ({ mode, direction, transport, assumptions }) => {
        const options = { transport, assumptions };
        expect(account(mode, direction, options)).toEqual(account(mode, direction, options));
        expect(ownAssumptions(mode, { ...assumptions, unheardOf: 7 })).toEqual(assumptions);
        expect(() => account(mode, direction, { assumptions: { unheardOf: 7 } })).toThrow(
          RangeError,
        );
      }),
    );
  });
});

describe("a link of the tester's own", () => {
  it("is understood anywhere by its name alone", () => {
    fc.assert(
      fc.property(ownDraft, direction, (draft, way) => {
        const mode = findMode(ownModeId(draft));
        expect(mode).not.toBeNull();
        const ledger = account(mode!, way);
        const { rate, lanes, payload, overhead, high } = draft;
        expect(ledger.lineRate).toBeLessThanOrEqual((rate * lanes * 1e3) / 8 + 1e-9);
        expect(ledger.hardCeiling).toBeCloseTo(
          (ledger.lineRate * payload) / (payload + overhead),
          6,
        );
        expect(ledger.attainable.high).toBeCloseTo(ledger.hardCeiling * high, 6);
      }),
    );
  });

  it("does not answer to a name that was tampered with", () => {
    for (const id of ["own:", "own:name=x", "own:name=x&rate=-1", "own:rate=abc&lanes=1"]) {
      expect(findMode(id), id).toBeNull();
    }
    expect(() => modeOf("no-such-mode")).toThrow();
  });
});
