import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { filledAt } from "@/core/testing/filled";
import { twoBoxes } from "@/core/testing/two-boxes";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
  chromium,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { LONG } from "../support/long";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";
import { startServer, type Server } from "../support/server";

const why = chromium() ? whyNoThrottle() : "needs Chromium";
if (why) console.warn(`skipped: drills on the page (${why})`);

const MIB = 2 ** 20;

describe.skipIf(why)("drills on the page, on real disks of which one is held to 60 MB/s", () => {
  let server: Server;
  let browser: OpenBrowser;
  let disks: Disk[];
  let throttle: Throttle;
  let study: string;
  let rig: string;

  beforeAll(async () => {
    disks = [makeDisk(200), makeDisk(200)];
    server = await startServer();
    throttle = new Throttle(disks[0]!);
    throttle.set(60);
    throttle.hold(server.process.pid!);
    browser = await openBrowser();
    const part = (kind: string, name: string, side: string, more: object = {}) =>
      post("/api/parts", { kind, name, connectors: [{ side, modes: ["stated-60"] }], ...more });
    study = await post("/api/studies", { title: "Drills" });
    const partIds = [
      await part("host-port", "Port", "down"),
      await part("drive", "Cirque", "up", { cacheBytes: 32 * MIB }),
    ];
    rig = await post(`/api/studies/${study}/rigs`, { name: "straight", partIds });
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    throttle.remove();
    for (const disk of disks) disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  async function post(url: string, body: object): Promise<string> {
    const response = await fetch(server.url + url, { method: "POST", body: JSON.stringify(body) });
    const { id, error } = (await response.json()) as { id?: string; error?: { message: string } };
    expect(error).toBeUndefined();
    return id!;
  }
  const press = (words: string, kind = "button") =>
    browser.page.locator(`${kind} ::-p-text(${words})`).click();
  const measurePage = () => goTo(browser.page, `${server.url}/studies/${study}/measure`);
  const done = () => browser.page.waitForSelector('[data-status="done"]');
  const start = async () => {
    await browser.page.locator('button[type="submit"]').click();
    await browser.page.waitForSelector("[data-status]");
  };
  /** Nothing on the page breaks a rule of accessibility, and it complained of nothing. */
  const sound = async () => {
    expect(await axeViolations(browser.page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
    expect(await textOf(browser.page)).not.toMatch(/NaN|undefined|Infinity/);
  };
  /** Measures through the page's own route, and shows what came of it. */
  const show = async (order: object) => {
    const asked = { target: disks[0]!.directory, reserve: MIB, besideOwnData: true, ...order };
    const id = await post(`/api/rigs/${rig}/measurements`, asked);
    await goTo(browser.page, `${server.url}/studies/${study}/measure?m=${id}`);
    await done();
    await browser.page.waitForSelector("tbody td");
  };

  it("shows what can be set of each drill, and why it is usually as it is", LONG, async () => {
    const { page } = browser;
    await measurePage();
    await typeInto(page, "target", disks[0]!.directory);
    await chooseFrom(page, "drill", "Stride ladder");
    await seeWords(page, /Separates the time per request from the time per byte/);
    await press("in flight,");
    await seeWords(page, /512 B, the smallest request the device takes/);
    await chooseFrom(page, "drill", "Long fill");
    await seeWords(page, /1800 s: half an hour is past the cache/);
    await sound();
  });

  it("says at the field what makes no sense, and loses nothing that was typed", async () => {
    const { page } = browser;
    await measurePage();
    await typeInto(page, "target", disks[0]!.directory);
    await chooseFrom(page, "drill", "Depth ladder");
    await press("in flight,");
    await typeInto(page, "depths", "1 2 many");
    await page.locator('button[type="submit"]').click();
    await seeWords(page, /✕ must be a number/);
    expect(await page.$eval('[name="depths"]', (i) => (i as HTMLInputElement).value)).toBe(
      "1 2 many",
    );
  });

  it(
    "keeps a drill of the tester's own, measures with it, and takes it off the list with a way back",
    LONG,
    async () => {
      const { page } = browser;
      await measurePage();
      await typeInto(page, "target", disks[0]!.directory);
      await chooseFrom(page, "drill", "Stride ladder");
      await press("in flight,");
      await typeInto(page, "blocks", "4KiB 64KiB 1MiB");
      await typeInto(page, "seconds", "0.5");
      await typeInto(page, "span", "16MiB");
      await typeInto(page, "own-title", "Three rungs");
      await press("Keep");
      await seeWords(page, /“Three rungs” is kept/);
      await measurePage();
      await chooseFrom(page, "drill", "Three rungs");
      await typeInto(page, "target", disks[0]!.directory);
      await press("in flight,");
      expect(await page.$eval('[name="blocks"]', (i) => (i as HTMLInputElement).value)).toBe(
        "4 KiB 64 KiB 1 MiB",
      );
      await typeInto(page, "reserve", "1MiB");
      await start();
      await done();
      await seeWords(page, /Three rungs, reading/);
      await seeWords(page, /Each request costs .* whatever its size/);
      await sound();
      await press("Remove “Three rungs” from the list");
      await press("Undo");
      await seeWords(page, /Three rungs, reading/);
    },
  );

  it("shows a Depth ladder and a Traverse as curves, with their values", LONG, async () => {
    await show({
      drill: "depth-ladder",
      direction: "read",
      depths: [1, 4, 16],
      seconds: 0.5,
      span: 16 * MIB,
    });
    await browser.page.waitForSelector('[aria-label^="Throughput by requests in flight"] svg');
    expect(await textOf(browser.page)).toMatch(/No rise with depth|One at a time/);
    await sound();
    await show({ drill: "traverse", direction: "read", places: 5, seconds: 0.5, span: 20 * MIB });
    await browser.page.waitForSelector('[aria-label^="Throughput by position"] svg');
    await sound();
  });

  it(
    "shows a Long fill with what it sustained, and Scatter with its request times",
    LONG,
    async () => {
      await show({ drill: "long-fill", size: 90 * MIB });
      await seeWords(browser.page, /Burst .* sustained .* flush at the end took/s);
      await sound();
      await show({ drill: "scatter", direction: "mixed", seconds: 1, repeats: 1, span: 16 * MIB });
      const text = await textOf(browser.page);
      expect(text).toMatch(/p99\.99/);
      expect(text).toMatch(/reading[\s\S]*writing/);
      await sound();
    },
  );

  it(
    "shows a copy as two sides, a Convoy as a stack, a Proof as a map, a Round step by step",
    LONG,
    async () => {
      const folder = fs.mkdtempSync(path.join(disks[1]!.directory, "mine-"));
      for (let i = 0; i < 20; i++)
        fs.writeFileSync(path.join(folder, `f${i}`), Buffer.alloc(200_000, i));
      await show({ drill: "ferry", direction: "write", other: folder });
      await seeWords(browser.page, /20 files, 4 MB in/);
      await seeWords(browser.page, /read from[\s\S]*written to/);
      await sound();
      await show({
        drill: "convoy",
        direction: "read",
        more: [disks[1]!.directory],
        seconds: 1,
        span: 16 * MIB,
      });
      await browser.page.waitForSelector('[aria-label^="The drives’ rates over time"] svg');
      await sound();
      await show({ drill: "proof", span: 16 * MIB });
      await seeWords(browser.page, /every block is as it was written/);
      await sound();
      const steps = [
        {
          name: "open it",
          drill: "scatter",
          direction: "read",
          set: { seconds: 0.5, span: 8 * MIB },
        },
        {
          name: "save it",
          drill: "haul",
          direction: "write",
          set: { seconds: 0.5, span: 8 * MIB },
        },
      ];
      await show({ drill: "round", work: "a day", steps });
      await seeWords(browser.page, /open it[\s\S]*save it/);
      await sound();
      expect(fs.readdirSync(disks[0]!.directory)).toEqual([]);
    },
  );

  it("does recorded work again, and says how long it took through the rig and waited", async () => {
    const { page } = browser;
    const folder = fs.mkdtempSync("/dev/shm/nerrit-work-");
    try {
      const row = (i: number) =>
        [i * 0.002, i % 3 ? "read" : "flush+write+flush", i * 65536, 65536, 0.0005, "edit"].join();
      const rows = Array.from({ length: 100 }, (_, i) => row(i)).join("\n");
      const columns = "seconds,operation,offset,bytes,seconds_to_answer,program";
      const file = (name: string, text: string) => {
        fs.writeFileSync(path.join(folder, name), text);
        return path.join(folder, name);
      };
      await measurePage();
      await chooseFrom(page, "drill", "Encore");
      await seeWords(page, /Indexing a picture archive[\s\S]*a sample/);
      await typeInto(page, "target", disks[0]!.directory);
      await page.locator('button[type="submit"]').click();
      await seeWords(page, /choose the work that is to be done again/);
      const add = async (name: string, text: string) => {
        const input = await page.waitForSelector('input[aria-label="The file of a recording"]');
        const upload = input as unknown as { uploadFile(path: string): Promise<void> };
        await upload.uploadFile(file(name, text));
      };
      await add("notes.txt", "nothing recorded");
      await seeWords(page, /notes\.txt: This is no recording/);
      browser.complaints.splice(0); // of what was refused
      await add("An evening of cutting.csv", `${columns}\n${rows}\n`);
      await page.waitForSelector('[data-works] [role="checkbox"][data-state="checked"]');
      await press("pauses kept");
      await typeInto(page, "reserve", "1MiB");
      await sound();
      await start();
      await done();
      await seeWords(page, /for the work; it waited .* for the drive/);
      await seeWords(page, /reading, recorded/);
      await sound();
      await goTo(page, `${server.url}/studies/${study}/compare`);
      await seeWords(page, /takes .* through A\./);
      await sound();
      expect(fs.readdirSync(disks[0]!.directory)).toEqual([]);
    } finally {
      fs.rmSync(folder, { recursive: true });
    }
  });

  it(
    "puts a Round together step by step, and keeps what does not make sense yet",
    LONG,
    async () => {
      const { page } = browser;
      await measurePage();
      await typeInto(page, "target", disks[0]!.directory);
      await chooseFrom(page, "drill", "Round");
      await press("steps,");
      await seeWords(page, /made to fit beside the reserve|comes with the program/);
      await typeInto(page, "work", "my morning");
      while (
        (await page.$$('[aria-label^="Remove step"]:not([disabled], [aria-disabled])')).length > 0
      )
        await page.locator('[aria-label="Remove step 1"]').click();
      await typeInto(page, "step-1-name", "look through");
      await chooseFrom(page, "step-1-drill", "Haul");
      await press("512 KiB blocks");
      await typeInto(page, "step-1-seconds", "0.5");
      await typeInto(page, "step-1-span", "much");
      await press("Add a step");
      await typeInto(page, "step-2-name", "put away");
      await chooseFrom(page, "step-2-direction", "writing");
      await typeInto(page, "reserve", "1MiB");
      await page.locator('button[type="submit"]').click();
      await seeWords(page, /✕ span must be a size/);
      await typeInto(page, "step-1-span", "8MiB");
      await page.locator('[aria-label="Move step 2 up"]').click();
      await page.waitForFunction(
        () =>
          document.querySelector<HTMLInputElement>('[name="step-2-name"]')?.value ===
          "look through",
      );
      const steps = await page.$$("fieldset li");
      await (await steps[0]!.$("button::-p-text(512 KiB blocks)"))!.click();
      await typeInto(page, "step-1-seconds", "0.5");
      await typeInto(page, "step-1-span", "8MiB");
      await sound();
      await start();
      await done();
      await seeWords(page, /put away[\s\S]*look through/);
    },
  );

  it("answers for whatever drill is asked for, and says what was not done yet", LONG, async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/${study}?drill=depth-ladder`);
    await seeWords(page, /do Depth ladder/);
    const trigger = await page.waitForSelector('[aria-label^="Drill:"]');
    await trigger!.click();
    await press("Haul", '[role="menuitemradio"]');
    await page.waitForFunction(() => location.search.includes("drill=haul"));
    await seeWords(page, /Nothing is measured yet, reading/);
    await sound();
  });

  it("fills a drive to a level, measures beside the ballast, and removes it", LONG, async () => {
    const { page } = browser;
    const { directory } = disks[1]!;
    await measurePage();
    await typeInto(page, "target", directory);
    await press("in flight,");
    await typeInto(page, "reserve", "1 MiB");
    await typeInto(page, "span", "8 MiB");
    await press("Fill level");
    await typeInto(page, "ballast-level", "much");
    await seeWords(page, /Type a share/);
    await typeInto(page, "ballast-level", "60 %");
    await press("of ballast");
    // Where the disk's image lies beside Nerrit's own data, that is asked about first.
    await Promise.race([
      press("Fill it all the same"),
      seeWords(page, /of ballast; the file system is/),
    ]);
    await seeWords(page, /of ballast; the file system is (59|60)/);
    await sound();
    expect(fs.readdirSync(path.join(directory, "nerrit-ballast"))).toContain("ballast-00000");
    await show({ target: directory, drill: "haul", direction: "read", span: 8 * MIB, seconds: 1 });
    await press("Conditions");
    await seeWords(page, /kept 60/);
    await measurePage();
    await typeInto(page, "target", directory);
    await press("Fill level");
    await press("Remove the ballast");
    await seeWords(page, /without ballast/);
    expect(fs.readdirSync(directory)).not.toContain("nerrit-ballast");
  });

  it("draws a cache against the free space, with what a job meets there", LONG, async () => {
    const { page } = browser;
    const fills = [0, 0.5, 0.9].map((level) => filledAt("r", level, (6 + 300 * (1 - level)) * 1e9));
    const filled = await post("/api/studies/file", twoBoxes({ runs: fills }));
    await goTo(page, `${server.url}/studies/${filled}/compare?gb=100`);
    await seeWords(page, /holds 306 GB with 1 TB free, and 36 GB with 100 GB free/);
    await page.waitForSelector('[aria-label^="Cache of Disk"] svg');
    const job = await page.$$eval("[data-cache] tbody tr td:nth-child(4)", (cells) =>
      cells.map(({ textContent }) => textContent),
    );
    expect(job).toHaveLength(3);
    expect(new Set(job).size).toBe(2);
    await sound();
  });
});
