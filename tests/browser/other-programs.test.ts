import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { LONG } from "../support/long";
import { startServer, type Server } from "../support/server";

const STUDY = "demo-enclosures";
const SUITE = [
  "Test\tA\tB\tnobody",
  "Open a project (s)\t41\t12\t",
  "Save a picture (MB/s)\t310\t455\t",
  "Unpack (s)\t18\t21\tsoon",
].join("\n");

describe.skipIf(!chromium())("what other programs show, on Compare", LONG, () => {
  let server: Server;
  let browser: OpenBrowser;
  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });
  const compare = () => goTo(browser.page, `${server.url}/studies/${STUDY}/compare`);
  const paste = (name: string, text: string) =>
    browser.page.$eval(
      `[name="${name}"]`,
      (area, value) => {
        const set = Object.getOwnPropertyDescriptor(HTMLTextAreaElement.prototype, "value")!.set!;
        set.call(area, value);
        area.dispatchEvent(new Event("input", { bubbles: true }));
      },
      text,
    );

  it("keeps a suite with what was understood of it, test by test, and removes it with a way back", async () => {
    const { page } = browser;
    await compare();
    await clickOn(page, "button", "Add the results of another program");
    await typeInto(page, "suite-name", "Workday");
    await paste("suite-table", SUITE);
    await seeWords(page, /“nobody” is no rig/);
    await clickOn(page, "button", "Add 6 figures of 3 tests");
    await page.waitForSelector('[data-suite="Workday"]');
    await seeWords(page, /2 of 3 tests gain from the wider link of B[\s\S]*Unpack is 14.% worse/);
    expect(await axeViolations(page)).toEqual([]);
    // It is kept with the study, and stands in its report.
    const report = await fetch(`${server.url}/api/studies/${STUDY}/report`);
    expect(await report.text()).toMatch(/Workday, test by test/);
    await clickOn(page, "button", "Remove this suite");
    await page.waitForFunction(() => !document.querySelector("[data-suite]"));
    await clickOn(page, "button", "Undo");
    await page.waitForSelector('[data-suite="Workday"]');
  });

  it("says why two programs differ on one rig once a ladder was done, and what to do before", async () => {
    const { page } = browser;
    const ask = async () => {
      await compare();
      await clickOn(page, "button", "Why do two programs");
      await paste(
        "cross-check-lines",
        "Scree: 686 MB/s, 128 KiB, 1 in flight\nMarmot: 1 049 MB/s, 1 MiB, 8 in flight\nodd",
      );
      await clickOn(page, "button", "Hold them against the ladders");
      await page.waitForSelector("[data-cross-check]");
    };
    await ask();
    await seeWords(page, /Line 3 begins with no program/);
    await seeWords(page, /No Stride ladder was done/);
    // 60 µs for each request, 1 000 MB/s for its bytes.
    const steps = [4, 16, 64, 128, 512, 1024, 4096].map((kib) => {
      const bytes = kib * 1024;
      return `${kib} KiB\t${(bytes / (60e-6 + bytes / 1e9) / 1e6).toFixed(1)}`;
    });
    const taken = await fetch(`${server.url}/api/studies/${STUDY}/grid`, {
      method: "POST",
      body: JSON.stringify({
        text: `Size\tRead (MB/s)\n${steps.join("\n")}`,
        rigs: {},
        columns: {},
        rigId: "demo-box-serac",
        common: 1,
      }),
    });
    expect(taken.status).toBe(201);
    await ask();
    await seeWords(
      page,
      /They agree: with 128 KiB, one in flight, 686 MB\/s is what this path gives/,
    );
    await seeWords(page, /with 8 requests in flight Scree would show/);
    expect(await axeViolations(page)).toEqual([]);
  });

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
