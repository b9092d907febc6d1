import fc from "fast-check";
import { describe, expect, it, vi } from "vitest";
import { rigProblems, type Rig } from "../chain/rig";
import { stagesOf } from "../chain/stages";
import { placeKey } from "../locate/posterior/explanation";
import { marksOf } from "../locate/findings/finding";
import { linkProblems } from "../chain/bottleneck";
import { NEARLY_FULL } from "../locate/observations/against-ledger";
import type { BriefMeasurement } from "../study/measurement";
import { drawn, holdsIn } from "../testing/drawn";
import { measured } from "../testing/measured";
import { part, PCIE, rig, USB_10G, USB_20G, USB_5G } from "../testing/rigs";
import { called, capital } from "../chain/wording";
import { answered as studyAnswered } from "../testing/answered";
import { IN_MB } from "../units/number";
import type { StudyAnswer } from "./study";
import { tellCause } from "./tell-group";

// Hundreds of studies are located and judged; a busy machine takes its time.
vi.setConfig({ testTimeout: 240_000 });

/**
 * Sentence, drawing and verdict come from one finding and cannot contradict one another: held over
 * studies of generated rigs that share parts, with generated rates, most of them nonsense.
 */

// Mostly wide and unlimited, so that some parts get cleared and some claims tried.
const usb = [USB_20G, USB_20G, USB_20G, USB_10G, USB_5G, ["usb-480m"]];
const rate = fc.integer({ min: 20, max: 2500 });
const limits = fc.option(rate, { nil: undefined, freq: 1 }).map((read) => ({ read }));
const modes = fc.constantFrom(...usb);

const shelf = fc.record({
  ports: fc
    .tuple(modes, modes)
    .map((all) => all.map((m, i) => part("host-port", `Port ${i}`, { down: m }))),
  cables: fc
    .tuple(modes, modes, modes)
    .map((all) => all.map((m, i) => part("cable", `Lead ${i}`, { through: m }))),
  hubs: fc
    .tuple(modes)
    .map((all) => all.map((m, i) => part("hub", `Hub ${i}`, { up: m, down: m }))),
  boxes: fc.array(fc.tuple(modes, limits, rate), { minLength: 1, maxLength: 2 }).map((all) =>
    all.map(([m, own, mbps], i) =>
      part(
        "enclosure",
        `Box ${i}`,
        { up: m, down: PCIE },
        {
          limits: own,
          claims: [{ kind: "peak", direction: "read", mbps }],
        },
      ),
    ),
  ),
  drives: fc
    .tuple(limits, limits)
    .map((all) => all.map((own, i) => part("drive", `Disk ${i}`, { up: PCIE }, { limits: own }))),
});

interface Bench {
  rigs: Rig[];
  measurements: BriefMeasurement[];
}

const bench: fc.Arbitrary<Bench> = shelf.chain(({ ports, cables, hubs, boxes, drives }) => {
  const one = fc
    .record({
      port: fc.constantFrom(...ports),
      cable: fc.option(fc.constantFrom(...cables)),
      hub: fc.option(fc.constantFrom(...hubs), { freq: 1 }),
      box: fc.constantFrom(...boxes),
      drive: fc.constantFrom(...drives),
      transport: fc.constantFrom(null, null, null, "usb-unqueued" as const),
      fileSystem: fc.constantFrom("", "", "ext4"),
      /** Often near some stage's ceiling, else anywhere. */
      aim: fc.oneof(fc.double({ min: 0.5, max: 1.1, noNaN: true }), rate),
      repeats: fc.constantFrom(0, 1, 3, 3, 3),
      spread: fc.constantFrom(0.002, 0.002, 0.05),
    })
    .map(({ port, cable, hub, box, drive, aim, repeats, spread, ...more }) => {
      const parts = [port, ...(cable ? [cable] : []), ...(hub ? [hub] : []), box, drive];
      return { parts, aim, repeats, spread, more };
    });
  return fc.array(one, { minLength: 2, maxLength: 7 }).map((all) => {
    // The first rig again with a box that lets everything through, as a careful tester would.
    const fast = part("enclosure", "Fast box", { up: USB_20G, down: PCIE });
    const [first] = all as [(typeof all)[number]];
    const control = {
      ...first,
      parts: first.parts.map((p) => (p.kind === "enclosure" ? fast : p)),
      aim: 0.95,
      repeats: 3,
    };
    const made = [...all, control].flatMap(({ parts, aim, repeats, spread, more }, i) => {
      const r = rig(parts, `r${i}`, more);
      if (rigProblems(r).length > 0 || linkProblems(r).length > 0) return [];
      const lowest = Math.min(...stagesOf(r, "read").map(({ ceiling }) => ceiling));
      const mbps = aim < 2 ? aim * lowest : aim;
      const rates = Array.from({ length: repeats }, (_, k) => mbps * (1 + spread * (k - 1)));
      return [{ r, m: rates.length > 0 ? [measured(r, rates)] : [] }];
    });
    return { rigs: made.map(({ r }) => r), measurements: made.flatMap(({ m }) => m) };
  });
});

const study = { id: "s", title: "t", tolerance: 0.05, smallestEffect: 0.03 };
const answered = ({ rigs, measurements }: Bench): StudyAnswer =>
  studyAnswered(study, rigs, measurements, "read");
/** `npm run soak:properties` draws other studies, and holds everything over all of them. */
const SEED = Number(process.env.NERRIT_SEED ?? 7);
const QUICK = process.env.NERRIT_QUICK === "1" ? 25 : 60;
const USUAL = process.env.NERRIT_SEED === undefined ? QUICK : 200;
/** A part that falls short is rare: so many studies have some. */
const ALL = 200;
const benches = drawn(bench, SEED, ALL);
/** Each study is answered once, for all that is asked of it. */
const answers: StudyAnswer[] = [];
const holds = (check: (answer: StudyAnswer, bench: Bench) => void, studies = USUAL) =>
  holdsIn(benches.slice(0, studies), SEED, (made, i) =>
    check((answers[i] ??= answered(made)), made),
  );

describe("an answer never contradicts itself", () => {
  it(
    "marks in a measured drawing what the flow nearly fills, and nothing else",
    { tags: "long" },
    () => {
      let marked = 0;
      holds(({ rigs }) => {
        for (const one of rigs) {
          const { rig: r, finding, standing, observation } = one;
          const marks = marksOf(one, "read");
          expect(marks.predicted).toBe(observation === null);
          if (!observation) continue;
          for (const stage of stagesOf(r, "read")) {
            if (!marks.stageKeys.includes(stage.key)) continue;
            marked += 1;
            // The part that is shown to limit the flow is marked as well.
            const isShown =
              standing?.settled && JSON.stringify(standing.likeliest!.at).includes(stage.part.id);
            if (isShown) continue;
            const flow = observation.repeats.median / stage.ceiling;
            expect(flow).toBeGreaterThanOrEqual(NEARLY_FULL);
            expect(finding!.kind).toBe("at bottleneck");
          }
        }
      });
      expect(marked).toBeGreaterThan(50);
    },
  );

  it("names as bottleneck in the sentence only what the drawing marks", () => {
    holds(({ rigs, headline }) => {
      const marked = rigs.flatMap((one) => {
        if (!one.observation) return [];
        const { stageKeys } = marksOf(one, "read");
        return stagesOf(one.rig, "read").filter(({ key }) => stageKeys.includes(key));
      });
      const accused = rigs.flatMap(({ standing }) => capital(standing?.likeliest?.subject ?? ""));
      const words = marked.flatMap(({ part: p, cause }) => [
        called(p),
        capital(called(p)),
        ...(cause.kind === "link" ? [`${cause.link.mode?.short} link`] : []),
      ]);
      for (const { text, bottleneck } of headline.flat()) {
        if (bottleneck) expect([...words, ...accused]).toContain(text);
      }
    });
  });

  it(
    "finds a part short only where runs, not its neighbours' words, cleared all the rest or convict it",
    { tags: "long" },
    () => {
      let short = 0;
      holds(({ verdicts, rigs }, { measurements }) => {
        for (const { kind, part: judged, claim, rig: held } of verdicts) {
          if (!kind.startsWith("Falls short")) continue;
          short += 1;
          const { rig: r, finding, standing } = rigs.find((one) => one.rig.id === held!.id)!;
          const { likeliest, settled } = standing!;
          const isConvicted = settled && placeKey(likeliest!.at) === placeKey({ part: judged.id });
          for (const other of isConvicted ? [] : r.parts.filter(({ id }) => id !== judged.id)) {
            const most = Math.max(
              ...measurements
                .filter((m) => m.rig.parts.some(({ id }) => id === other.id))
                .filter(({ runs }) => runs.length > 1)
                .flatMap(({ runs }) => runs.map(({ result }) => result!.meanMBps)),
            );
            expect(most).toBeGreaterThan(claim.mbps);
          }
          // What the sentence says of the rig points at nobody else.
          const cleared = Object.entries(standing!.parts).filter(
            ([, state]) => state === "cleared",
          );
          expect(cleared.map(([id]) => id)).not.toContain(judged.id);
          if (finding!.kind === "at bottleneck")
            expect(finding!.bottleneck.culprits.map(({ id }) => id)).toEqual([judged.id]);
        }
      }, ALL);
      expect(short).toBeGreaterThan(0);
    },
  );

  it("never finds a part both delivering and short, whatever the order of rigs and runs", () => {
    holds((answer, { rigs, measurements }) => {
      const again = answered({ rigs: rigs.toReversed(), measurements: measurements.toReversed() });
      const plain = ({ verdicts }: StudyAnswer) =>
        verdicts.map(({ part: p, kind }) => `${p.id} ${kind}`).toSorted();
      expect(plain(again)).toEqual(plain(answer));
    });
  });

  it("never says a percentage of a cause without its word of certainty, and no sentence of 40 words", () => {
    holds(({ headline, told, groups, rigs }) => {
      const causes = groups.flatMap((group) =>
        group.rigs.map((one) => tellCause(group, one, IN_MB)),
      );
      const sentences = [...headline, ...told.map(({ sentence }) => sentence)].map((all) =>
        all.map(({ text }) => text).join(""),
      );
      for (const text of [...sentences, ...told.map(({ title }) => title), ...causes]) {
        if (/\((over )?\d+(\.\d)?( to (over )?\d+(\.\d)?)?\s%\)/.test(text))
          expect(text).toMatch(/shown|likely|open/i);
        expect(text.split(" ").length).toBeLessThan(40);
        expect(text).not.toMatch(/undefined|NaN|null|Infinity/);
      }
      for (const { standing } of rigs)
        if (standing?.likeliest) expect(standing.likeliest.subject).not.toBe("");
    });
  });
});
