import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { DEMO_STUDIES } from "@demo/demo";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
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
import { make } from "../support/made";
import { startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";

describe.skipIf(why)(
  "the sample studies, the simulated bench, and results from elsewhere",
  LONG,
  () => {
    let server: Server;
    let browser: OpenBrowser;
    let study: string;
    const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-elsewhere-"));
    beforeAll(async () => {
      server = await startServer();
      browser = await openBrowser();
    });
    afterAll(async () => {
      await browser?.close();
      await server?.end();
      fs.rmSync(server.data, { recursive: true, force: true });
      fs.rmSync(folder, { recursive: true });
    });
    const press = (words: string, kind = "button") =>
      browser.page.locator(`${kind} ::-p-text(${words})`).click();
    const sound = async () => {
      expect(await axeViolations(browser.page)).toEqual([]);
      expect(browser.complaints).toEqual([]);
    };
    const put = async (label: string, name: string, text: string | Uint8Array) => {
      const file = path.join(folder, name);
      fs.writeFileSync(file, text);
      const input = await browser.page.waitForSelector(`input[aria-label="${label}"]`);
      await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(file);
    };
    const measurePage = () => goTo(browser.page, `${server.url}/studies/${study}/measure`);
    const rows = () => browser.page.$$eval("[data-runs] tbody tr", (all) => all.length);

    it("shows which sample study shows what, takes them away and puts them back", async () => {
      const { page } = browser;
      await goTo(page, server.url);
      const titles = () => page.$$eval('a[href^="/studies/"]', (all) => all.length);
      expect(await titles()).toBe(DEMO_STUDIES.length);
      for (const words of [
        /cable that halves/,
        /bursts only/,
        /cache gives out/,
        /one uplink/,
        /work done again/,
      ]) {
        expect(await textOf(page)).toMatch(words);
      }
      await press("Remove the sample studies");
      await seeWords(page, /The sample studies are gone/);
      await page.waitForFunction(() => !document.querySelector('a[href^="/studies/"]'));
      await sound();
      await press("Restore the sample studies");
      await seeWords(page, /Which enclosure keeps its word/);
      expect(await titles()).toBe(DEMO_STUDIES.length);
    });

    it("puts the tester’s own first, and offers no sample part for it", async () => {
      const { page } = browser;
      study = await make(server, "/api/studies", { title: "My own bench" });
      await goTo(page, server.url);
      const [first] = await page.$$eval('a[href^="/studies/"]', (all) =>
        all.map((a) => a.textContent),
      );
      expect(first).toMatch(/My own bench/);
      await goTo(page, `${server.url}/studies/${study}/rigs`);
      await press("Add rigs");
      await (await page.waitForSelector('button[data-name="place-cable"]'))!.click();
      await seeWords(page, /Enter a new part|everyday|put on the shelf/i);
      expect(await textOf(page, "body")).not.toMatch(/Icefall|K5/);
      await page.keyboard.press("Escape");
    });

    it(
      "draws the simulated run beside the kept one, and says from when they differ",
      LONG,
      async () => {
        const { page } = browser;
        await goTo(page, `${server.url}/studies/demo-enclosures/simulated?rig=demo-box-cornice`);
        await seeWords(page, /same within the noise/);
        await page.waitForSelector('[aria-label^="Throughput over time"] svg');
        await sound();
        // In a hotter room it gets slower sooner: the two part at some time.
        await typeInto(page, "ambient", "45");
        await press("Simulate it");
        await seeWords(page, /From .* it was simulated before at .* more than the .* simulated/);
        await typeInto(page, "ambient", "hot");
        await press("Simulate it");
        await seeWords(page, /must be a number/);
      },
    );

    it("does recorded work again, once it is chosen, and says how long it takes", async () => {
      const { page } = browser;
      await goTo(page, `${server.url}/studies/demo-work/simulated?m=demo-work-k5-encore-mixed-3`);
      await seeWords(page, /It took as long when it was simulated before|When it was simulated/);
      await chooseFrom(page, "simulate-against", "none");
      await chooseFrom(page, "of-drill", "Encore");
      await seeWords(page, /Choose the recorded work that is to be done again/);
      await page.locator("[data-works] label ::-p-text(Indexing a picture archive)").click();
      await seeWords(page, /the work takes [\d.]+ s through Moraine · Serac, cable K5, and waits/);
      await sound();
    });

    it("takes in a study’s file as it was saved, and a broken one not at all", async () => {
      const { page } = browser;
      const saved = await fetch(`${server.url}/api/studies/demo-enclosures/file`);
      const bytes = new Uint8Array(await saved.arrayBuffer());
      await goTo(page, server.url);
      const before = (await page.$$('a[href^="/studies/"]')).length;
      await put("A file of a study", "cut.zip", bytes.slice(0, bytes.length / 2));
      await seeWords(page, /cut\.zip: The archive is damaged/);
      await put("A file of a study", "wrong.json", '{\n  "format": nerrit\n}');
      await seeWords(page, /wrong\.json: Line 2, column 13/);
      await goTo(page, server.url);
      expect((await page.$$('a[href^="/studies/"]')).length).toBe(before);
      await put("A file of a study", "whole.zip", bytes);
      await seeWords(page, /9 rigs, 12 parts/);
      await seeWords(page, /Till/);
      study = page.url().split("/studies/")[1]!.split("?")[0]!;
      // It is the tester's own now, and its runs are what they were.
      await goTo(page, `${server.url}/studies/${study}`);
      await seeWords(page, /simulated/);
      await sound();
    });

    it("takes in figures that are typed, says what it understood, and takes them back", async () => {
      const { page } = browser;
      await measurePage();
      const before = await rows();
      await press("Type a figure");
      await typeInto(page, "figures", "320 GB in 6:40; fast");
      await seeWords(page, /“320 GB in 6:40” is 800 MB\/s/);
      await seeWords(page, /“fast” is no figure/);
      await sound();
      await press("Add the figures");
      await seeWords(page, /"fast" is no figure/);
      await typeInto(page, "figures", "320 GB in 6:40; 795 MB/s");
      await typeInto(page, "source", "stopwatch");
      await press("Add the figures");
      await seeWords(page, /1 result added/);
      await seeWords(page, /stopwatch/);
      await measurePage();
      expect(await rows()).toBeGreaterThan(before);
      // Each origin can be looked at alone.
      await chooseFrom(page, "measured-origin", "typed");
      expect(await rows()).toBe(1);
      await goTo(page, `${server.url}/studies/${study}?origin=typed`);
      await seeWords(page, /typed \(2 runs\)/);
      expect(await textOf(page)).toMatch(/798/);
    });

    it("takes in a pasted grid after a look at it, and undoes it", async () => {
      const { page } = browser;
      await measurePage();
      const before = await rows();
      await press("Paste a grid");
      const field = await page.waitForSelector('[name="grid"]');
      const paste = (text: string) =>
        field!.evaluate((area, value) => {
          const set = Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, "value")!.set!;
          set.call(area, value);
          area.dispatchEvent(new Event("input", { bubbles: true }));
        }, text);
      await paste("Rig\tHaul read (MiB/s)\tScatter write\nSerac\t1.001,5\tquick\n");
      await seeWords(page, /Line 2, column 3: “quick” is no figure/);
      await paste(
        "Rig\tHaul read (MiB/s)\tScatter write\nSerac\t1.001,5\t41.000\nNowhere\t450,5\t\n",
      );
      await seeWords(page, /“Nowhere”: say which rig/);
      await sound();
      await chooseFrom(page, "grid-line-3", "Cornice");
      await press("Add the figures");
      await seeWords(page, /3 results added/);
      await page.waitForFunction(
        (n) => document.querySelectorAll("[data-runs] tbody tr").length > n,
        {},
        before,
      );
      await press("Undo");
      await page.waitForFunction(
        async (url) => {
          const page = await (await fetch(url)).text();
          return !page.includes("pasted grid");
        },
        {},
        `${server.url}/studies/${study}/measure`,
      );
    });

    it("imports a log, with its columns corrected and remembered", async () => {
      const { page } = browser;
      const lines = Array.from(
        { length: 120 },
        (_, i) => `${i + 1};${i < 60 ? 900 : 240};${30 + i / 8}`,
      );
      const log = `t;a;b\n${lines.join("\n")}\n`;
      await measurePage();
      await put("A log", "strange.csv", log);
      await seeWords(page, /120 lines/);
      await chooseFrom(page, "log-role-2", "rate, writing");
      await seeWords(page, /570 MB\/s in the mean/);
      await chooseFrom(page, "log-role-3", "temperature, °C");
      await page.waitForSelector('[aria-label="The log as a trace"] svg');
      await sound();
      await press("Import as a run");
      await seeWords(page, /1 result added/);
      await seeWords(page, /strange\.csv/);
      await measurePage();
      await put("A log", "next.csv", log);
      await seeWords(page, /570 MB\/s in the mean/);
      await page.keyboard.press("Escape");
      await put("A log", "words.txt", "nothing to see here\n");
      await seeWords(page, /No line of it has numbers/);
    });

    it("lays another program's temperatures over a run, and keeps pictures of it", async () => {
      const { page } = browser;
      const seconds = Array.from({ length: 200 }, (_, i) => i + 1);
      const rates = seconds.map((s) => `${s};${s <= 100 ? 900 + (s % 7) : 300 + (s % 5)}`);
      const degrees = seconds.map((s) => `${s};${s <= 100 ? 40 + s * 0.4 : 79}`);
      const parts = [
        { kind: "host-port", name: "Front", connectors: [{ side: "down", modes: ["usb-10g"] }] },
        { kind: "drive", name: "Scree", connectors: [{ side: "up", modes: ["usb-10g"] }] },
      ];
      const partIds = await Promise.all(parts.map((part) => make(server, "/api/parts", part)));
      const route = `/api/studies/${study}`;
      const rigId = await make(server, `${route}/rigs`, { name: "Warm", partIds });
      const text = `t;write MB/s\n${rates.join("\n")}\n`;
      const body = JSON.stringify({ rigId, text, drill: "long-fill", direction: "write" });
      const taken = await fetch(`${server.url}${route}/log`, { method: "POST", body });
      const [run] = ((await taken.json()) as { measurementIds: string[] }).measurementIds;
      await goTo(page, `${server.url}/studies/${study}/trace?run=${run}-0`);
      await seeWords(page, /cache or heat/i);
      const log = "A log of temperatures";
      await put(log, "load.csv", "s;load\n1;5\n2;6\n");
      await seeWords(page, /No column of the log is a temperature/);
      await page.keyboard.press("Escape");
      await put(log, "box.csv", `s;box temp\n${degrees.join("\n")}\n`);
      await page.waitForSelector('[data-within="200"]');
      await sound();
      await press("Add to the run");
      await seeWords(page, /Heat slowed the run down/);
      await page.waitForSelector('[data-log="box.csv"]');
      await press("Add a picture");
      await page.waitForSelector('[role="dialog"]');
      const png = fs.readFileSync(path.resolve("docs/screenshots/answer.png"));
      await put("A picture of the run", "the fan.png", png);
      await page.waitForSelector('[role="dialog"] img[alt="the fan"]');
      await press("Save the pictures");
      await page.waitForSelector('[data-photos="1"] img[alt="the fan"]');
      await sound();
      await page.locator("[data-log] button").click();
      await seeWords(page, /cache or heat/i);
    });
  },
);
