import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  chooseFrom,
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  type OpenBrowser,
} from "../support/browser";
import { startServer, type Server } from "../support/server";
import { LONG } from "../support/long";

const BOXES = "/studies/demo-enclosures";

describe.skipIf(!chromium())("judging claims", () => {
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
  const open = (url: string) => goTo(browser.page, server.url + url);
  /** What the page says of the claim it shows. */
  const verdict = () => textOf(browser.page, '[aria-label="The verdict"]');

  it("is a stage of the course, with every claim and its verdict", async () => {
    const { page } = browser;
    await open(BOXES);
    await clickOn(page, "nav a", "Judge");
    await seeWords(page, /5 of 9 claims delivered; in bursts only: Cornice peak writing; short: /);
    const rows = await page.$$eval("tr[data-claim]", (all) => all.map((row) => row.textContent));
    expect(rows).toHaveLength(9);
    expect(rows.filter((text) => /Falls short/.test(text ?? ""))).toHaveLength(3);
  });

  it("shows what a verdict rests on: runs, the challenge, the cause, and who changed it", async () => {
    const { page } = browser;
    await open(`${BOXES}/judge`);
    await clickOn(page, 'tr[data-claim="demo-till.0"] a', "Falls short");
    await page.waitForFunction(() => window.location.search.includes("claim=demo-till.0"));
    await seeWords(page, /Till claims peak 1.000 MB\/s reading/);
    expect(await verdict()).toMatch(/Falls short in this combination by 4\d/);
    expect(await verdict()).toMatch(/Icefall left port[\s\S]*MB\/s in/);
    expect(await verdict()).toMatch(/Which run changed it/);
    await clickOn(page, '[aria-label="The verdict"] li a', "in");
    await page.waitForFunction(() => window.location.pathname.endsWith("/measure"));
  });

  it(
    "can be questioned: another tolerance, a run less; marked, and back to how it is",
    LONG,
    async () => {
      const { page } = browser;
      await open(`${BOXES}/judge?claim=demo-cornice.2`);
      expect(await verdict()).toMatch(/Falls short in this combination by 3[56]/);
      await clickOn(page, 'section[aria-label="Question the verdict"] label', "run 1");
      await seeWords(page, /What if: without 1 run\./);
      await seeWords(page, /As it is, Cornice: Falls short in this combination by 3[56]/);
      expect(await verdict()).toMatch(/Can't tell yet/);
      expect(await verdict()).toMatch(/asked without 1 run/);
      await clickOn(page, "a", "Back to how it is");
      await page.waitForFunction(() => !window.location.search.includes("without"));
      await chooseFrom(page, "tolerance", "20");
      await seeWords(page, /What if: tolerance 20/);
      await clickOn(page, "button", "Keep 20");
      // The marks say "tolerance 20 %" of the question too: it is kept once nothing is asked any more.
      await page.waitForFunction(() => !window.location.search.includes("tolerance"));
      await seeWords(page, /tolerance 20.%, usually 5.%/);
      // Wherever verdicts stand, it is said.
      await open(BOXES);
      await seeWords(page, /tolerance 20.%/);
    },
  );

  it("turns what would settle it into a rig and its runs", async () => {
    const { page } = browser;
    await open("/studies/demo-day/judge");
    await clickOn(page, "tr[data-claim] a", "Falls short in this combination");
    await seeWords(page, /What would settle it/);
  });

  it("says what to do where nothing is claimed", async () => {
    const { page } = browser;
    await open("/");
    await page.type('input[name="title"]', "No claims");
    await clickOn(page, "button", "Start the study");
    await page.waitForFunction(() => /\/studies\/[0-9a-f-]{36}/.test(window.location.pathname));
    const { pathname } = new URL(page.url());
    await open(`${pathname.split("/").slice(0, 3).join("/")}/judge`);
    await seeWords(page, /there is nothing to judge/);
  });

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
