import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { measureAgeingDrive } from "@/services/testing/ageing-drive";
import { openStore } from "@/store/database";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  type OpenBrowser,
} from "../support/browser";
import { newFolder, startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";
if (why) console.warn(`skipped: browser tests (${why})`);

describe.skipIf(why)("a drive that became slower", () => {
  let server: Server;
  let browser: OpenBrowser;

  beforeAll(async () => {
    const data = newFolder();
    const store = openStore(data);
    measureAgeingDrive(store);
    store.$client.close();
    server = await startServer(data);
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  it("is warned of on the shelf, and its page shows when, by how much, and every day", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/shelf`);
    await seeWords(page, /Old drive is \d+\s%\sslower since 2025-11-16/);
    const rows = await page.$$eval("tbody tr", (all) =>
      all.flatMap(({ textContent }) => (/⚠/.test(textContent ?? "") ? [textContent ?? ""] : [])),
    );
    expect(rows).toHaveLength(1);
    expect(rows[0]).toContain("Old drive");

    await clickOn(page, "a", "See the evidence");
    await page.waitForSelector("#over-time svg path");
    const said = await textOf(page, "#over-time");
    expect(said).toMatch(/The change came between 2025-09-17 and 2025-11-16/);
    expect(said).toMatch(/2 rigs, measured alike on 8 days/);
    expect(browser.complaints).toEqual([]);
  });

  it("has a cable of whose rates too few days are known, and which its page says", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/shelf?q=Cable+of+lab`);
    await page.locator('[data-compare="Cable of lab"]').click();
    await page.waitForSelector("#over-time");
    expect(await textOf(page, "#over-time")).toMatch(/is not shown to be slower|is open/);
    expect(browser.complaints).toEqual([]);
  });
});
