import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { createStudy } from "@/services/studies/studies";
import { measureAgeingDrive } from "@/services/testing/ageing-drive";
import { openStore } from "@/store/database";
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
import { newFolder, startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";
if (why) console.warn(`skipped: browser tests (${why})`);

describe.skipIf(why)("a bench of years", () => {
  let server: Server;
  let browser: OpenBrowser;

  beforeAll(async () => {
    const data = newFolder();
    const store = openStore(data);
    measureAgeingDrive(store);
    for (const year of [2021, 2022, 2023]) createStudy(store, { title: `Cables of ${year}` });
    store.$client.close();
    server = await startServer(data);
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  it("warns on the shelf of a drive that became slower, and shows when, by how much, and every day", async () => {
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

  it("says of a cable that nothing is known", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/shelf?q=Cable+of+lab`);
    await page.locator('[data-compare="Cable of lab"]').click();
    await page.waitForSelector("#over-time");
    expect(await textOf(page, "#over-time")).toMatch(/is not shown to be slower|is open/);
    expect(browser.complaints).toEqual([]);
  });

  it("finds studies by words and tags, and sets one aside", async () => {
    const { page } = browser;
    const seen = () =>
      page.$$eval("main li a[href^='/studies/']", (all) =>
        all.map(({ textContent }) => textContent ?? ""),
      );
    const until = (count: number) =>
      page.waitForFunction(
        (n) => document.querySelectorAll("main li a[href^='/studies/']").length === n,
        {},
        count,
      );
    // The page has the title of a new study, too.
    const title = '[role="dialog"] [name="title"]';
    await goTo(page, server.url);
    await page.locator('[aria-label="Search the studies"]').fill("cab 2022");
    await until(1);
    expect(await seen()).toEqual([expect.stringContaining("Cables of 2022")]);
    await clickOn(page, "button", "Rename or tag");
    await typeInto(page, "tags", "cables, ");
    const field = await page.waitForSelector(title);
    await field!.click({ count: 3 });
    await field!.press("Backspace");
    await clickOn(page, "button", "Save");
    await page.waitForSelector('[role="dialog"] [role="alert"]');
    await page.locator(title).fill("All cables of 2022");
    await clickOn(page, "button", "Save");
    await seeWords(page, /All cables of 2022/);
    await clickOn(page, "button", "Set aside");
    await seeWords(page, /set aside\. A search still finds it/);

    await goTo(page, server.url);
    await seeWords(page, /1 study set aside/);
    expect((await seen()).join()).not.toContain("2022");
    await clickOn(page, "a", "1 study set aside");
    await until(1);
    await clickOn(page, "button", "Bring back");
    await seeWords(page, /is back in the list/);
    await goTo(page, `${server.url}/?tag=cables`);
    await until(1);
    expect(await seen()).toEqual([expect.stringContaining("All cables of 2022")]);
    expect(browser.complaints).toEqual([]);
  });

  it("copies a study: the same rig and drills, to be measured, and another cable", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/?q=drive+on+desk`);
    await clickOn(page, "button", "Copy");
    await seeWords(page, /and no runs/);
    await page.locator('[role="dialog"] [name="title"]').fill("The drive on desk, again");
    const [, cable] = await page.$$eval('button[data-name^="slot-"]', (all) =>
      all.map((button) => button.getAttribute("data-name")!),
    );
    await chooseFrom(page, cable!, "Cable of lab");
    await clickOn(page, "button", "Make the copy");
    await page.waitForFunction(() => /\/measure\?like=/.test(window.location.href));
    // The plan that is to be made has the title of the test.
    await page.waitForFunction(() =>
      [...document.querySelectorAll("input")].some(({ value }) =>
        /Test of “The drive on desk”/.test(value),
      ),
    );
    expect(browser.complaints).toEqual([]);
  });
});
