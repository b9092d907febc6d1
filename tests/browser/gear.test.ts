import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { startServer, type Server } from "../support/server";

const why = chromium() ? whyNoDevices() : "needs Chromium";
if (why) console.warn(`skipped: entering gear (${why})`);

/** Six parts with what is printed on them, as a tester types them into the places of a path. */
const PARTS: readonly [place: string, typed: string][] = [
  ["host-port", "10g"],
  ["cable", "10g"],
  ["cable", "K5 5g usb-c"],
  ["enclosure", "10g nvme 1000MB/s"],
  ["enclosure", "Till 20g nvme 2000MB/s"],
  ["drive", "nvme 4.0 7000/5100MB/s"],
];

describe.skipIf(why)("entering gear", () => {
  let server: Server;
  let browser: OpenBrowser;
  let disk: Disk;
  beforeAll(async () => {
    disk = makeDisk(1300);
    server = await startServer();
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  let presses = 0;
  let characters = 0;
  const type = async (text: string) => {
    characters += text.length;
    await browser.page.keyboard.type(text);
  };
  const press = async (key: Parameters<OpenBrowser["page"]["keyboard"]["press"]>[0]) => {
    presses += 1;
    await browser.page.keyboard.press(key);
  };
  const click = async (kind: string, words: string) => {
    presses += 1;
    await clickOn(browser.page, kind, words);
  };
  /** Takes what an open list has found. */
  const take = async () => {
    await browser.page.waitForSelector(
      '[cmdk-list]:not([aria-busy="true"]) [cmdk-item][data-selected="true"]',
    );
    await press("Enter");
    await browser.page.waitForFunction(() => !document.querySelector("[cmdk-input]"));
  };
  const partsIn = (place: string) =>
    browser.page.$$eval(`[data-place="${place}"] li`, (all) => all.length);
  const planned = async () => {
    await browser.page.waitForSelector("[data-plan]");
    const text = await textOf(browser.page);
    for (const letter of ["A", "B", "C", "D"]) expect(text).toMatch(new RegExp(`\\b${letter}\\b`));
  };
  const sound = async () => {
    expect(await axeViolations(browser.page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
  };

  it("takes six parts, four rigs and a plan in 25 presses and 120 characters", async () => {
    const { page } = browser;
    await goTo(page, server.url);
    presses += 1;
    await (await page.waitForSelector('[name="title"]'))!.click();
    await type("Boxes");
    await press("Enter");
    await page.waitForFunction(() => location.pathname.endsWith("/rigs"));
    await click("button", "Add rigs");
    const count: Record<string, number> = {};
    for (const [place, typed] of PARTS) {
      presses += 1;
      await (await page.waitForSelector(`button[data-name="place-${place}"]`))!.click();
      await page.waitForSelector("[cmdk-input]:focus");
      await type(typed);
      await page.waitForFunction(
        (sought) =>
          (document.querySelector("[cmdk-input]") as HTMLInputElement | null)?.value === sought,
        {},
        typed,
      );
      await take();
      count[place] = (count[place] ?? 0) + 1;
      await expect.poll(() => partsIn(place)).toBe(count[place]);
    }
    await expect.poll(() => page.$$eval("[data-rigs='4']", (all) => all.length)).toBe(1);
    await seeWords(page, /\b482\b/);
    await sound();
    await click("button", "Add 4 rigs");
    await page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    await seeWords(page, /4 rigs, 6 parts/);
    await click("nav a", "Measure");
    await page.waitForFunction(() => location.pathname.endsWith("/measure"));
    presses += 1;
    await (await page.waitForSelector('button[data-name="plugged-target"]'))!.click();
    await page.waitForSelector("[cmdk-input]:focus");
    await page.waitForSelector(`[cmdk-item] ::-p-text(${disk.directory})`);
    await click("[cmdk-item]", disk.directory);
    await click("button", "All 4 rigs");
    await planned();
    console.log(`six parts, four rigs, a plan: ${presses} presses, ${characters} characters`);
    expect(presses).toBeLessThanOrEqual(25);
    expect(characters).toBeLessThanOrEqual(120);
    // Claims stand as they were printed.
    const parts = (await (await fetch(`${server.url}/api/parts/kinds`)).json()) as {
      name: string;
      claims: object[];
    }[];
    expect(parts.find(({ name }) => name === "Till")!.claims).toEqual([
      { kind: "peak", direction: "read", mbps: 2000 },
      { kind: "peak", direction: "write", mbps: 2000 },
    ]);
    await clickOn(page, "button", "End the plan");
  });

  it("asks about a claim that is not clear, and takes the answer by a press", LONG, async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/shelf`);
    await clickOn(page, "button", "Add a part");
    await (await page.waitForSelector('button[data-name="gear"]'))!.click();
    await page.waitForSelector("[cmdk-input]:focus");
    await page.keyboard.type("Serac 10g nvme box");
    await take();
    await typeInto(page, "claims", "10 Gpbs, 1000 MB/s");
    await seeWords(page, /“Gpbs” is not clear as a unit/);
    await clickOn(page, "button", "Add it to the shelf");
    await seeWords(page, /answer what is asked of it/);
    await sound();
    await clickOn(page, "[role=alert] button", "Gbps");
    await seeWords(page, /understood: a 10 Gb\/s link; peak 1 000 MB\/s reading/);
    await clickOn(page, "button", "Add it to the shelf");
    await page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    await seeWords(page, /Serac/);
  });

  it("asks in the path too, and tells two of one name apart", LONG, async () => {
    const { page } = browser;
    await goTo(page, server.url);
    await typeInto(page, "title", "Twice");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => location.pathname.endsWith("/rigs"));
    await clickOn(page, "button", "Add rigs");
    for (const typed of ["new serac 10g nvme 1000 mb/s", "serac nvme 10g 900MB/s"]) {
      await (await page.waitForSelector('button[data-name="place-enclosure"]'))!.click();
      await page.waitForSelector("[cmdk-input]:focus");
      await page.keyboard.type(typed.replace("new ", ""));
      await take();
      if (!typed.startsWith("new")) break;
      await seeWords(page, /“mb\/s” is not clear as a unit/);
      await clickOn(page, "[role=alert] button", "MB/s");
      await clickOn(page, "button", "Add it to the shelf");
      await page.waitForSelector('[aria-label="Remove serac"]');
    }
    await page.waitForSelector('[aria-label="Remove serac (2)"]');
    await sound();
  });

  it("sets up a usual test: its places, its plan, and what to read at the end", LONG, async () => {
    const { page } = browser;
    await goTo(page, server.url);
    await chooseFrom(page, "usual-test", "cables");
    expect(await page.$eval('[name="title"]', (i) => (i as HTMLInputElement).value)).toMatch(
      /Which cable/,
    );
    await clickOn(page, "button", "Start the study");
    await seeWords(page, /every cable, each by its tag[\s\S]*/);
    await seeWords(page, /At the end read: Compare, matrix/);
    await sound();
    const typed = { "host-port": "10g", cable: "L1 10g", enclosure: "10g nvme", drive: "nvme 4.0" };
    const stand: Record<string, number> = {};
    for (const [place, words] of [...Object.entries(typed), ["cable", "L2 5g"]] as const) {
      await (await page.waitForSelector(`button[data-name="place-${place}"]`))!.click();
      await page.waitForSelector("[cmdk-input]:focus");
      await page.keyboard.type(words!);
      await take();
      // A new part is put on the shelf first, and stands in its place when the shelf has answered.
      stand[place!] = (stand[place!] ?? 0) + 1;
      await page.waitForFunction(
        (at, count) => document.querySelectorAll(`[data-place="${at}"] li`).length === count,
        {},
        place!,
        stand[place!]!,
      );
    }
    await clickOn(page, "button", "Add 2 rigs");
    await page.waitForFunction(() => location.search === "?test=cable");
    await seeWords(page, /Begin the plan/);
    expect(await page.$eval('[name="plan-title"]', (i) => (i as HTMLInputElement).value)).toBe(
      "Test of cables",
    );
    await seeWords(page, /12 runs, about [\s\S]*writes at most/);
    await sound();
  });

  it("does the same by keyboard alone, with the focus never lost", LONG, async () => {
    const { page } = browser;
    const focused = () =>
      page.evaluate(() => {
        const at = document.activeElement as HTMLElement | null;
        if (!at || at === document.body) return null;
        return `${at.getAttribute("name") ?? ""} ${at.dataset.name ?? ""} ${at.textContent}`.trim();
      });
    const tabTo = async (words: RegExp) => {
      for (let left = 150; left > 0; left--) {
        const at = await focused();
        if (at !== null && words.test(at)) return;
        await page.keyboard.press("Tab");
      }
      throw new Error(`Tab never comes to ${words}.`);
    };
    const keepsFocus = () => expect.poll(focused).not.toBeNull();
    await goTo(page, server.url);
    await tabTo(/^title/);
    await page.keyboard.type("By keys");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => location.pathname.endsWith("/rigs"));
    await keepsFocus();
    await tabTo(/^Add rigs$/);
    await page.keyboard.press("Enter");
    await page.waitForSelector("[role=dialog]");
    for (const [place, typed] of PARTS.filter(([, typed]) => !typed.startsWith("Till"))) {
      const there = await partsIn(place);
      await tabTo(new RegExp(`^place-${place}`));
      await page.keyboard.press("Enter");
      await page.waitForSelector("[cmdk-input]:focus");
      await page.keyboard.type(typed);
      await take();
      await expect.poll(() => partsIn(place)).toBe(there + 1);
      await keepsFocus();
    }
    await tabTo(/^Add 2 rigs$/);
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    await keepsFocus();
    await tabTo(/^Measure/);
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => location.pathname.endsWith("/measure"));
    await keepsFocus();
    await tabTo(/^plugged-target/);
    await page.keyboard.press("Enter");
    await page.waitForSelector("[cmdk-input]:focus");
    await page.keyboard.type(disk.directory);
    await take();
    await tabTo(/^All 2 rigs/);
    await page.keyboard.press("Enter");
    await page.waitForSelector("[data-plan]");
    await keepsFocus();
    await clickOn(page, "button", "End the plan");
    expect(browser.complaints).toEqual([]);
  });
});
