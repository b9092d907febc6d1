import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { make } from "../support/made";
import { startServer, type Server } from "../support/server";

describe.skipIf(!chromium())("backups, on their page", () => {
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

  it("are made by a press, and bring back what was there, as often as one likes", async () => {
    const { page } = browser;
    await make(server, "/api/studies", { title: "Before the backup" });
    await goTo(page, `${server.url}/backups`);
    await clickOn(page, "button", "Back up now");
    await seeWords(page, /6 studies, \d+ runs.*whole/);
    await make(server, "/api/studies", { title: "After the backup" });
    await clickOn(page, "button", "Restore ...");
    await seeWords(page, /Everything becomes as it was/);
    await clickOn(page, '[role="dialog"] button', "Restore");
    await seeWords(page, /is restored/);
    await seeWords(page, /before another was restored/);
    const titles = async () => (await fetch(server.url)).text();
    expect(await titles()).toContain("Before the backup");
    expect(await titles()).not.toContain("After the backup");
    // What was replaced is a backup, too.
    const before = fs
      .readdirSync(path.join(server.data, "backups"))
      .find((name) => name.endsWith("before-restore.sqlite"));
    await page.locator(`[data-backup="${before}"] button`).click();
    await seeWords(page, /Everything becomes as it was/);
    await clickOn(page, '[role="dialog"] button', "Restore");
    await page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
    expect(await titles()).toContain("After the backup");
  });

  it("say at the field what makes no sense, and keep what was typed", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/backups`);
    await clickOn(page, "button", "How backups are made");
    await typeInto(page, "folder", "/proc/none/such");
    await typeInto(page, "days", "lots");
    await clickOn(page, "button", "Save");
    await page.waitForSelector('[name="days"][aria-invalid="true"]');
    await typeInto(page, "days", "9");
    await clickOn(page, "button", "Save");
    await seeWords(page, /nothing can be written into \/proc\/none\/such/);
    const folder = fs.mkdtempSync(path.join(server.data, "kept-"));
    await typeInto(page, "folder", folder);
    await clickOn(page, "button", "Save");
    await seeWords(page, new RegExp(`They lie in ${folder}`));
  });

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
