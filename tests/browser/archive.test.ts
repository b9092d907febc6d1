import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";
if (why) console.warn(`skipped: browser tests (${why})`);

describe.skipIf(why)("the archive's page", () => {
  let server: Server;
  let browser: OpenBrowser;
  const archive = () =>
    path.join(path.dirname(server.data), `${path.basename(server.data)}-archive`);

  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(archive(), { recursive: true, force: true });
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  it("writes an archive where it is told to, and answers from it", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/archive`);
    await seeWords(page, /An archive keeps every run as Parquet files/);
    await typeInto(page, "folder", "archive");
    await clickOn(page, "button", "Save");
    await seeWords(page, /absolute path/);
    await typeInto(page, "folder", archive());
    await page.locator("label ::-p-text(Archive the sample studies too)").click();
    await clickOn(page, "button", "Save");
    await seeWords(page, /Nothing was added yet/);
    await clickOn(page, "button", "Add missing runs");
    await seeWords(page, /The archive holds \d+ runs of 1 host/);

    await clickOn(page, "button", "Ask");
    await seeWords(page, /Simulated runs are left out/);
    await page.locator("label ::-p-text(Count simulated runs too)").click();
    await clickOn(page, "button", "Ask");
    await seeWords(page, /1 row in/);
    expect(await textOf(page, "[data-answer]")).toMatch(/Mean share of claim/);
    await page.waitForSelector("[data-answer] svg path");
    expect(browser.complaints).toEqual([]);
  });

  it("answers one's own SQL, says what is wrong with it, and imports the study it names", async () => {
    const { page } = browser;
    await page.locator("[data-name=question]").click();
    await page.locator("[role=option] ::-p-text(Your own SQL)").click();
    // It begins with the question that was shown.
    expect(await page.$eval("textarea[name=sql]", (field) => field.value)).toMatch(/^WITH/);
    const write = (sql: string) => page.locator("textarea[name=sql]").fill(sql);
    await write("SELECT nothing FROM runs");
    await clickOn(page, "button", "Ask");
    await seeWords(page, /nothing.*not found/);
    await write(
      "SELECT study_id, COUNT(*) AS runs FROM runs WHERE study_id = 'demo-first' GROUP BY study_id",
    );
    await clickOn(page, "button", "Ask");
    await seeWords(page, /demo-first/);
    await clickOn(page, "button", "Import this study");
    await page.waitForFunction(() => /^\/studies\/[\w-]{30,}$/.test(window.location.pathname));
    const text = await textOf(page);
    await goTo(page, `${server.url}/studies/demo-first`);
    expect((await textOf(page)).match(/\d+ MB\/s/g)).toEqual(text.match(/\d+ MB\/s/g));
    // What is wrong with SQL is refused with 422, which the browser tells of.
    expect(browser.complaints).toEqual([]);
  });
});
