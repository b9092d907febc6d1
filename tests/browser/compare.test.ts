import fs from "node:fs";
import Papa from "papaparse";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  takeFound,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { LONG } from "../support/long";
import { savedFrom, type Saved } from "../support/saved";
import { startServer, type Server } from "../support/server";

const STUDY = "/studies/demo-enclosures";
const DAY = "/studies/demo-day";

describe.skipIf(!chromium())("reading a run, and comparing rigs", () => {
  let server: Server;
  let browser: OpenBrowser;
  let saved: Saved;

  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
    saved = await savedFrom(browser.page);
    await browser.page
      .browserContext()
      .overridePermissions(server.url, ["clipboard-read", "clipboard-sanitized-write"]);
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
    saved?.end();
  });

  const open = (url: string) => goTo(browser.page, server.url + url);
  const query = () => new URL(browser.page.url()).searchParams;
  const until = (of: (asked: URLSearchParams) => boolean) =>
    expect.poll(() => of(query())).toBe(true);

  /** Says another word in the question: opens it, types, and takes what answers. */
  async function sayWord(name: string, words: string, expected = words): Promise<void> {
    await (await browser.page.waitForSelector(`button[data-name="${name}"]`))!.click();
    await takeFound(browser.page, words, expected);
  }

  const save = (title: string, kind: string) => saved.save(title, kind);

  it("asks in a sentence whose words are typed into, and the address says what is asked", async () => {
    const { page } = browser;
    await open(`${STUDY}/compare`);
    await seeWords(page, /2 drives do[\s\S]*every drill through/);
    await sayWord("drill", "Haul");
    await until((asked) => asked.get("drill") === "haul");
    await sayWord("direction", "reading");
    await until((asked) => asked.get("direction") === "read");
    await seeWords(page, /of the ceiling/);
    await sayWord("against", "rig A");
    await until((asked) => asked.get("against") !== null);
    await seeWords(page, /of the baseline[\s\S]*baseline/);
    expect(await textOf(page)).toMatch(/What is weak[\s\S]*differs from the baseline in \d things/);
    await page.goBack();
    await until((asked) => asked.get("against") === null && asked.get("direction") === "read");
    await seeWords(page, /the link ceiling\?/);
  });

  it("takes rigs out of the question and sorts what is left", LONG, async () => {
    const { page } = browser;
    await open(`${STUDY}/compare?drill=haul&direction=read`);
    await sayWord("rigs", "Nunatak");
    await until((asked) => asked.get("rigs") === "demo-box-nunatak");
    await sayWord("rigs", "Cornice");
    await until((asked) => (asked.get("rigs") ?? "").split(",").length === 2);
    await clickOn(page, "th button", "MB/s");
    await until((asked) => asked.get("sort") === "rate");
    const rows = await page.$$eval("table tbody th", (heads) => heads.map((h) => h.textContent));
    expect(rows.slice(0, 2).map((row) => /Nunatak|Cornice/.exec(row ?? "")?.[0])).toEqual([
      "Nunatak",
      "Cornice",
    ]);
  });

  it("saves the Narrows drawing with its words", async () => {
    await open(`${STUDY}/compare?drill=haul&direction=read&view=narrows`);
    await browser.page.waitForSelector("section svg");
    const svg = (await save("Haul", "SVG")).toString("utf8");
    expect(svg).toMatch(/>Nunatak<[\s\S]*>3.632</);
    expect(svg).toMatch(/<path|<rect/);
  });

  it.each([
    ["bars", /claimed/],
    ["native", /ceiling of its own at/],
    ["narrows", /bottleneck|of its ceiling/],
    ["repeats", /What it means/],
    ["traces", /Look closer/],
  ])("shows the answer as %s", async (view, words) => {
    await open(`${STUDY}/compare?drill=haul&direction=read&view=${view}`);
    await seeWords(browser.page, words);
    await browser.page.waitForSelector("section svg");
  });

  it("lays rigs out by two parts, with gains and ceilings, and opens a figure’s runs", async () => {
    const { page } = browser;
    await open(`${STUDY}/compare?drill=haul&direction=read&view=matrix`);
    await seeWords(page, /drive by enclosure[\s\S]*Till[\s\S]*gain[\s\S]*slowest[\s\S]*ceiling/);
    await (await page.waitForSelector('[data-matrix] button[data-runs="B, Haul"]'))!.click();
    await page.waitForSelector('[role="dialog"]');
    await page.keyboard.press("Escape");
    await open(`${STUDY}/compare?drill=haul&direction=read&view=matrix&down=cable&across=hub`);
    await seeWords(page, /cable by hub/);
  });

  it(
    "sets a rate beside the rigs that none of them gave, and asks about one that makes no sense",
    LONG,
    async () => {
      const { page } = browser;
      await open(`${STUDY}/compare?drill=haul&direction=read`);
      await clickOn(page, "summary", "Compare with a rate");
      await typeInto(page, "reference", "the built-in drive");
      await typeInto(page, "reference-rate", "fast");
      await clickOn(page, "form button", "Add");
      await seeWords(page, /must be a number/);
      await typeInto(page, "reference-rate", "5100");
      await page.keyboard.press("Enter");
      await seeWords(page, /the built-in drive\s*stated, no rig[\s\S]*5.100/);
      // It is kept with the study, whatever is asked of it.
      await open(`${STUDY}/compare?drill=haul&direction=write`);
      await seeWords(page, /the built-in drive\s*stated, no rig[\s\S]*5.100/);
      await (await page.waitForSelector('button[aria-label="Remove the built-in drive"]'))!.click();
      await page.waitForFunction(() => !document.body.innerText.includes("stated, no rig"));
    },
  );

  it("leaves as a picture for a screen, and a single rig as its card", LONG, async () => {
    const { page } = browser;
    await open(`${STUDY}/compare?rigs=demo-box-serac`);
    await (await page.waitForSelector('button[aria-label^="Save:"]'))!.click();
    await clickOn(page, '[role="menuitem"]', "Picture for a screen");
    await seeWords(page, /Rig A: Icefall left port · L1 · Serac · Moraine 1T/);
    await clickOn(page, '[role="radio"]', "clear, light type");
    await page.waitForSelector('[data-slide="clear-light"]');
    await clickOn(page, '[role="radio"]', "SVG");
    const file = await saved.saveBy(() =>
      clickOn(page, '[role="dialog"] button', "Save the picture"),
    );
    const svg = file.toString("utf8");
    expect(svg).toMatch(/width="1920" height="1080"/);
    expect(svg).toMatch(/Haul, reading[\s\S]*@font-face|@font-face[\s\S]*Haul, reading/);
    await page.keyboard.press("Escape");
  });

  it("records a trace as a clip that can be stopped", LONG, async () => {
    const { page } = browser;
    await open(`${STUDY}/compare?drill=haul&direction=read&view=traces`);
    await clickOn(page, "button", "Save as a clip");
    await page.waitForSelector('[role="dialog"] canvas');
    await clickOn(page, '[role="dialog"] button', "Record and save the clip");
    await seeWords(page, /Stop recording/);
    await clickOn(page, '[role="dialog"] button', "Stop recording");
    await seeWords(page, /Record and save the clip/);
    await page.keyboard.press("Escape");
  });

  it("says how long the tester’s own amount takes, with the cache’s edge in it", async () => {
    const { page } = browser;
    await open(`${DAY}/compare?rigs=demo-day-talus`);
    const before = await textOf(page);
    await typeInto(page, "gb", "50");
    await page.keyboard.press("Enter");
    await until((asked) => asked.get("gb") === "50");
    await seeWords(page, /writing 50 GB/);
    expect(await textOf(page)).not.toEqual(before);
  });

  it("switches every rate to another unit, and remembers it", LONG, async () => {
    const { page } = browser;
    await open(`${STUDY}/compare?drill=haul&direction=read`);
    await (await page.waitForSelector('button[aria-label^="Unit of rates"]'))!.click();
    await clickOn(page, '[role="menuitemradio"]', "Gb/s");
    await seeWords(page, /in 9 rigs|8\.3\d Gb\/s|Gb\/s/);
    await seeWords(page, /through rig B \(Nunatak\)[\s\S]*29\.1/);
    await open(STUDY);
    await seeWords(page, /in\s+Gb\/s/);
    await page.deleteCookie({ name: "nerrit-unit", url: server.url });
  });

  it(
    "leaves a run out with a reason, counts it for nothing, and takes it in again",
    LONG,
    async () => {
      const { page } = browser;
      await open(`${STUDY}/compare?drill=haul&direction=read&rigs=demo-box-serac`);
      await (await page.waitForSelector('button[data-runs="A"]'))!.click();
      await clickOn(page, '[role="dialog"] button', "Leave this run out");
      await clickOn(page, '[role="dialog"] button', "Leave it out");
      await seeWords(page, /say why/);
      await typeInto(page, "left-out", "the cable was touched");
      await page.keyboard.press("Enter");
      await seeWords(page, /1 run left out:.*the cable was touched/);
      await clickOn(page, '[role="dialog"] button', "Count it again");
      await page.waitForFunction(() => !/left out:/.test(document.body.innerText));
    },
  );

  it("saves the table as CSV and to the clipboard, the same as it stands", LONG, async () => {
    const { page } = browser;
    await open(`${STUDY}/compare?drill=haul&direction=read`);
    const csv = (await save("Haul", "Values, CSV")).toString("utf8");
    const rows = Papa.parse<string[]>(csv.trim()).data;
    const shown = await page.$$eval("section table tbody tr", (all) =>
      all.map((row) => Number(row.children[1]!.textContent!.replace(/.*:|[^\d.]/g, ""))),
    );
    expect(rows[0]!.slice(0, 6)).toEqual([
      "rig",
      "name",
      "file system",
      "drill",
      "direction",
      "median, MB/s",
    ]);
    const saved = rows.slice(1).map((row) => Number(row[5]));
    expect(saved).toHaveLength(9);
    saved.forEach((mbps, i) => expect(Math.abs(mbps / shown[i]! - 1)).toBeLessThan(0.01));
    await (await page.waitForSelector('button[aria-label^="Save: Haul"]'))!.click();
    await clickOn(page, '[role="menuitem"]', "to the clipboard");
    await seeWords(page, /on the clipboard/);
    const pasted = await page.evaluate(() => navigator.clipboard.readText());
    expect(Papa.parse<string[]>(pasted, { delimiter: "\t" }).data).toEqual(rows);
  });

  it(
    "saves a picture as SVG that parses, and as PNG of one and two times its size",
    LONG,
    async () => {
      const { page } = browser;
      await page.evaluate(() => (document.documentElement.dataset.theme = "dark"));
      await open(`${STUDY}/compare?drill=haul&direction=read&view=bars`);
      await page.waitForSelector("section svg");
      const svg = (await save("Haul", "SVG")).toString("utf8");
      const read = await page.evaluate((text) => {
        const document_ = new DOMParser().parseFromString(text, "image/svg+xml");
        const root = document_.documentElement;
        return {
          broken: document_.querySelector("parsererror") !== null,
          words: root.textContent,
          ground: root.querySelector("rect")!.getAttribute("fill"),
          size: [root.getAttribute("width"), root.getAttribute("height")].map(Number),
        };
      }, svg);
      expect(read.broken).toBe(false);
      // The bars have the colour of the flow in the light theme.
      expect(svg).toMatch(/#1c7f8c|rgb\(28, ?127, ?140\)/);
      expect(read.words).toMatch(/Haul, reading, through 9 rigs/);
      expect(read.words).toMatch(/medians in MB\/s[\s\S]*Simulated/);
      // In the light theme, whatever theme the page is in.
      expect(read.ground).toBe("#fbf8f1");
      const sizeOf = (png: Buffer) => [png.readUInt32BE(16), png.readUInt32BE(20)];
      const rounded = read.size.map(Math.floor);
      expect(sizeOf(await save("Haul", "Picture, PNG"))).toEqual(rounded);
      const twice = sizeOf(await save("Haul", "twice the size"));
      expect(twice.map((pixels) => Math.round(pixels / 2))).toEqual(read.size.map(Math.round));
    },
  );

  it("says what happened in a run, and shows a stretch of it closely by keys and by wheel", async () => {
    const { page } = browser;
    await open(`${DAY}/trace?run=demo-day-talus-long-fill-write-0`);
    await seeWords(page, /(The cache gave out|The rate fell) after 73\.\d GB/);
    const range = () =>
      page.$eval("[data-range]", (shown) =>
        shown.getAttribute("data-range")!.split(" ").map(Number),
      );
    const [from, to] = await range();
    await page.focus('[role="group"][aria-label^="rate over time"]');
    await page.keyboard.press("+");
    await page.keyboard.press("+");
    await page.keyboard.press("ArrowLeft");
    const [near, far] = await range();
    expect((to! - from!) / (far! - near!)).toBeCloseTo(4, 1);
    const chart = (await page.$('[role="group"][aria-label^="rate over time"] [role="img"]'))!;
    const box = (await chart.boundingBox())!;
    await page.mouse.move(box.x + box.width / 2, box.y + 100);
    await page.mouse.wheel({ deltaY: -200 });
    await expect
      .poll(async () => (await range())[1]! - (await range())[0]!)
      .toBeLessThan(far! - near!);
    await clickOn(page, "button", "Show all");
    await expect.poll(range).toEqual([from, to]);
    await page.focus('[role="group"][aria-label^="rate over time"]');
    await page.keyboard.down("Shift");
    for (let i = 0; i < 3; i++) await page.keyboard.press("ArrowRight");
    await page.keyboard.up("Shift");
    await seeWords(page, /\d s\s*\n?.*B, repeat 1, Talus: [\d ]+ MB\/s/);
  });

  it("lets what was found be corrected by hand, marks it, and undoes it", LONG, async () => {
    const { page } = browser;
    await open(`${DAY}/trace?run=demo-day-talus-long-fill-write-0`);
    await seeWords(page, /(gave out|fell) after 73\.\d GB/);
    const moved = (await page.waitForSelector(
      'input[aria-label^="after the "][aria-label$=" at"]',
    ))!;
    await moved.click({ count: 3 });
    await moved.type("50");
    await page.keyboard.press("Enter");
    await seeWords(page, /(gave out|fell) after 5\d\.?\d* GB[\s\S]*moved by hand/);
    await open(`${DAY}/trace?run=demo-day-talus-long-fill-write-0`);
    await seeWords(page, /corrected by hand/);
    await chooseFrom(page, "What it is, at 50.0 s", "throttled");
    await seeWords(page, /Heat slowed the run down/);
    await typeInto(page, "mark-seconds", "600");
    await clickOn(page, "button", "Add");
    await seeWords(page, /added by hand/);
    await clickOn(page, "button", "Undo all 3");
    await seeWords(page, /(gave out|fell) after 73\.\d GB/);
    expect(await textOf(page)).not.toMatch(/by hand/);
  });

  it("lays another run over it, and aligns both at the cache’s edge", LONG, async () => {
    const { page } = browser;
    await open(`${DAY}/trace?run=demo-day-talus-long-fill-write-0`);
    await sayWord("overlay", "Moraine repeat 1 Long", "Long fill");
    await until((asked) => asked.getAll("run").length === 2);
    await seeWords(page, /After \d+ min \d+ s: \d+ GB against \d+ GB/);
    await clickOn(page, "button", "at the cache’s edge");
    await until((asked) => asked.get("align") === "edge");
    await clickOn(page, "button", "bytes moved over time");
    await until((asked) => asked.get("by") === "sum");
    await clickOn(page, "button", "Remove from the picture");
    await until((asked) => asked.getAll("run").length === 1);
  });

  it("finds from the shelf what a part did in all its rigs, over all studies", LONG, async () => {
    const { page } = browser;
    await open("/shelf?q=Moraine&gear=all");
    await (await page.waitForSelector('a[data-compare="Moraine 1T"]'))!.click();
    await seeWords(page, /stands in \d\d rigs of all studies/);
    await sayWord("drill", "Haul");
    // Its name stands there before the answer has come, which would take an open dialog away.
    await until((asked) => asked.get("drill") === "haul");
    await page.waitForSelector('[aria-busy="false"]');
    await seeWords(page, /Which cable to carry/);
    await (await page.waitForSelector('button[data-runs^="A"]'))!.click();
    await clickOn(page, '[role="dialog"] a', "Its trace");
    await seeWords(page, /It kept one level|What was found in it/);
  });

  it(
    "says how long recorded work takes through each rig, and foretells the one that did none",
    LONG,
    async () => {
      await open("/studies/demo-work/compare");
      await seeWords(
        browser.page,
        /Building a database program takes about as long through every rig/,
      );
      await browser.page.waitForFunction(
        () =>
          [...document.querySelectorAll("#works tr")].filter((row) =>
            /Varve · Corrie[\s\S]*predicted/.test((row as HTMLElement).innerText),
          ).length === 3,
      );
      await seeWords(browser.page, /The cache of Talus 2T holds 92 GB with 2 TB free/);
      expect(await axeViolations(browser.page)).toEqual([]);
    },
  );

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
