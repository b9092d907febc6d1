import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { HTTPRequest } from "puppeteer-core";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  chooseFrom,
  chromium,
  goTo,
  openBrowser,
  pickFrom,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";
if (why) console.warn(`skipped: browser tests (${why})`);

describe.skipIf(why)("from an empty shelf to the answer, by clicks and keys", () => {
  let server: Server;
  let browser: OpenBrowser;
  let disk: Disk | null = null;
  let directory: string;

  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
    // A disk of its own where the machine allows it, else a directory of the machine's disk.
    if (!whyNoDevices()) disk = makeDisk(160);
    directory = disk?.directory ?? fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-here-"));
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    disk?.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const click = async (selector: string) => (await browser.page.waitForSelector(selector))!.click();
  const press = async (words: string, kind = "button") =>
    browser.page.locator(`${kind} ::-p-text(${words})`).click();
  const choose = (name: string, words: string) => chooseFrom(browser.page, name, words);

  async function addPart(
    kind: string,
    name: string,
    modes: string[][],
    more: Record<string, string> = {},
  ) {
    await press("Add a part");
    await pickFrom(browser.page, "gear", `Other ${kind}`);
    await typeInto(browser.page, "name", name);
    const sides = await browser.page.$$("[role=dialog] fieldset[data-modes]");
    for (const [i, ticked] of modes.entries()) {
      for (const mode of ticked) {
        if (/^\d/.test(mode)) {
          await (await sides[i]!.$("[inputmode=decimal]"))!.type(`${mode}\n`);
        } else await (await sides[i]!.$(`[data-mode="${mode}"]`))!.click();
      }
    }
    for (const [field, text] of Object.entries(more)) {
      if (/^own/.test(field) && !(await browser.page.$(`[name="${field}"]`)))
        await press("Maker, serial number, price and more");
      await typeInto(browser.page, field, text);
    }
    await press("Add it to the shelf");
    await browser.page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
    await seeWords(browser.page, new RegExp(name));
  }

  it("shows the demo's answer one click from the first page", async () => {
    const { page } = browser;
    await goTo(page, server.url);
    await press("Which cable to carry", "a");
    await page.waitForFunction(() => location.pathname === "/studies/demo-first");
    await seeWords(page, /Cable K2 .*limits rig B to 448 MB\/s/);
    const text = await textOf(page);
    expect(text).toMatch(/2 of 2 claims delivered/);
    expect(text).toMatch(/simulated sample data/);
    expect(await page.$$eval("svg[role=img]", (drawn) => drawn.length)).toBe(2);
  });

  it("answers in the other direction and unit when a word of the question is changed", async () => {
    const { page } = browser;
    await click('[aria-label="Direction: reading"]');
    await press("writing", '[role="menuitemradio"]');
    await page.waitForFunction(() => location.search.includes("direction=write"));
    await seeWords(page, /limits rig B to 439 MB\/s/);
    await click('[aria-label="Unit: MB/s"]');
    await press("MiB/s", '[role="menuitemradio"]');
    await seeWords(page, /limits rig B to 41\d MiB\/s/);
  });

  it("keeps what was typed when a part makes no sense", async () => {
    const { page } = browser;
    await press("Shelf", "header a");
    await page.waitForFunction(() => location.pathname === "/shelf");
    await press("Add a part");
    await typeInto(page, "name", "<b>Odd</b> port");
    await press("Maker, serial number, price and more");
    await typeInto(page, "ownRead", "fast");
    await press("Add it to the shelf");
    await seeWords(page, /choose at least one mode/);
    await seeWords(page, /must be a number/);
    expect(await page.$eval('[name="name"]', (i) => (i as HTMLInputElement).value)).toBe(
      "<b>Odd</b> port",
    );
    await page.keyboard.press("Escape");
  });

  it("enters the parts", async () => {
    await addPart("host port", "Bench port", [["4000", "9000"]]);
    await addPart("cable", "Long lead", [["4000"]], { tag: "red" });
    await addPart("cable", "Short lead", [["9000"]]);
    await addPart("enclosure", "Glass box", [["4000", "9000"], ["sata-6g"]], {
      claims: "read 20 MB/s",
    });
    await addPart("drive", "Test disk", [["sata-6g"]], { ownRead: "550", ownWrite: "500" });
  });

  it("puts them in order to two rigs, and warns of what will not link", async () => {
    const { page } = browser;
    await press("Studies", "header a");
    await page.waitForFunction(() => location.pathname === "/");
    await typeInto(page, "title", "Which lead for the test disk");
    await press("Start the study");
    await seeWords(page, /A rig is the exact chain of parts/);
    for (const lead of ["Long lead", "Short lead"]) {
      await press("Add rigs");
      const path = { "host-port": "Bench port", cable: lead, enclosure: "Glass box" };
      for (const [place, part] of Object.entries({ ...path, drive: "Test disk" })) {
        await pickFrom(page, `place-${place}`, part);
        await page.waitForSelector(`[aria-label="Remove ${part}"]`);
      }
      await seeWords(page, /predicted bottleneck/);
      const last = await page.$$('button[type="submit"]');
      await last.at(-1)!.click();
      await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
      await seeWords(page, new RegExp(`Bench port · ${lead}`));
    }
    await seeWords(page, /1 change: cable Long lead against Short lead/);
  });

  it("refuses a directory that is not there, and keeps the form", async () => {
    const { page } = browser;
    await press("Measure", "nav a");
    await typeInto(page, "target", "/no/such/place");
    await press("Measure", 'button[type="submit"]');
    await seeWords(page, /There is no \/no\/such\/place/);
    expect(await page.$eval('[name="target"]', (i) => (i as HTMLInputElement).value)).toBe(
      "/no/such/place",
    );
  });

  it("measures both rigs on a real directory, live", async () => {
    const { page } = browser;
    for (const rig of ["A ·", "B ·"]) {
      await choose("rig", rig);
      await typeInto(page, "target", directory);
      if (!(await page.$('[name="seconds"]'))) await press("blocks, 16 in flight");
      await typeInto(page, "seconds", "1");
      await typeInto(page, "repeats", "2");
      await typeInto(page, "span", "32MiB");
      await typeInto(page, "reserve", "1MiB");
      const before = page.url();
      await press("Measure", 'button[type="submit"]');
      await page.waitForFunction(
        (url) => location.href !== url || document.querySelector("[role=alertdialog]"),
        {},
        before,
      );
      await clickIfThere("Measure it all the same");
      // The run before it is shown until this one has begun.
      await page.waitForFunction((url) => location.href !== url, {}, before);
      await page.waitForSelector('[role="img"][aria-label^="Throughput"] svg');
      await page.waitForSelector('[data-status="done"]');
    }
    expect(fs.readdirSync(directory)).toEqual([]);
  });

  const clickIfThere = async (words: string) => {
    const found = await browser.page.$(`button ::-p-text(${words})`);
    await found?.click();
  };

  it("reads the answer", async () => {
    const { page } = browser;
    await press("Read the answer", "a");
    // How fast the directory is, and so what the claim is worth, is the machine's.
    await seeWords(page, /1 of 1 claim delivered|1 claim, still open/);
    const text = await textOf(page);
    expect(text).toMatch(/2 rigs, 5 parts/);
    expect(text).not.toMatch(/NaN|undefined|Infinity/);
    expect(browser.complaints).toEqual([]);
  });

  it("says on the ledger page what link a measured rate looks like", async () => {
    const { page } = browser;
    await press("Link ledger", "header a");
    await seeWords(page, /Nothing honest exceeds 1 141 MB\/s/);
    await typeInto(page, "measured", "452");
    await seeWords(page, /452 MB\/s lies in what these attain, best fit first: USB 5 Gb\/s/);
    await typeInto(page, "MB/s", "100");
    await seeWords(page, /1 000 GB take 2 h 47 min at 100 MB\/s/);
    await pickFrom(page, "mode", "USB4 at 40 Gb/s carrying PCIe");
    await seeWords(page, /the tunnelled link itself: PCIe 4\.0 ×4/);
    expect(browser.complaints).toEqual([]);
  });

  it("leaves a reader who has gone elsewhere where they are, once what they asked for is done", async () => {
    const { page } = browser;
    await press("Studies", "header a");
    await typeInto(page, "title", "Which port for the test disk");
    await page.setRequestInterception(true);
    let hold: (request: HTTPRequest) => void;
    const asked = new Promise<HTTPRequest>((resolve) => (hold = resolve));
    const each = (request: HTTPRequest) =>
      request.method() === "POST" ? hold(request) : void request.continue();
    page.on("request", each);
    await press("Start the study");
    const held = await asked;
    await press("Link ledger", "header a");
    await seeWords(page, /Nothing honest exceeds/);
    const done = page.waitForResponse((response) => response.request() === held);
    await held.continue();
    expect((await done).ok()).toBe(true);
    page.off("request", each);
    await page.setRequestInterception(false);
    // Going elsewhere would come before what is typed now is answered.
    await typeInto(page, "measured", "452");
    await seeWords(page, /452 MB\/s lies in what these attain/);
    expect(new URL(page.url()).pathname).toBe("/ledger");
  });

  it("goes anywhere by keys alone", async () => {
    const { page } = browser;
    await page.keyboard.down("Control");
    await page.keyboard.press("k");
    await page.keyboard.up("Control");
    await page.waitForSelector("[cmdk-input]");
    await page.keyboard.type("shelf");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => location.pathname === "/shelf");
  });
});
