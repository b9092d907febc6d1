import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  type OpenBrowser,
} from "../support/browser";
import { startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";
if (why) console.warn(`skipped: browser tests (${why})`);

describe.skipIf(why)("what was removed", () => {
  let server: Server;
  let browser: OpenBrowser;
  let studyId: string;
  let rigId: string;

  const ask = async (method: string, path: string, body?: unknown) => {
    const answer = await fetch(`${server.url}${path}`, {
      method,
      headers: { origin: server.url, "content-type": "application/json" },
      body: body === undefined ? null : JSON.stringify(body),
    });
    const told: unknown = await answer.json();
    expect(answer.ok, JSON.stringify(told)).toBe(true);
    return told as { id: string; measurementIds: string[] };
  };

  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
    ({ id: studyId } = await ask("POST", "/api/studies", { title: "Which lead" }));
    const modes = ["usb-10g"];
    const partIds = await Promise.all([
      ask("POST", "/api/parts", {
        kind: "host-port",
        name: "Desk port",
        connectors: [{ side: "down", modes }],
      }),
      ask("POST", "/api/parts", {
        kind: "drive",
        name: "Field drive",
        connectors: [{ side: "up", modes }],
      }),
    ]).then((parts) => parts.map(({ id }) => id));
    ({ id: rigId } = await ask("POST", `/api/studies/${studyId}/rigs`, { name: "Desk", partIds }));
    await ask("POST", `/api/studies/${studyId}/typed`, {
      rigId,
      drill: "haul",
      direction: "read",
      figures: ["842", "851"],
    });
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  it("is found in one place with what it was, after the notice has gone, and comes back whole", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/${studyId}/measure`);
    await clickOn(page, "button", "Remove");
    await seeWords(page, /is removed; it can be put back for 30 days, under Removed/);
    await goTo(page, server.url);
    await clickOn(page, "button", "Remove");
    await seeWords(page, /Which lead is removed/);
    // The list moves up before anything below it can be pressed.
    await page.waitForFunction(
      (id) => !document.querySelector(`a[href^="/studies/${id}"]`),
      {},
      studyId,
    );
    await clickOn(page, "a", "What was removed");
    await seeWords(page, /Kept for 30 days/);
    const text = await textOf(page);
    expect(text).toMatch(/Which lead\s*study: 1 rig/);
    expect(text).toMatch(/Haul, reading, through Desk\s*runs: 2 runs: 842, 851 MB\/s/);

    // What stood in the study comes back after it.
    const row = (kind: string) => `[data-removed="${kind}"] button`;
    expect(text).toMatch(/put its study back first/);
    expect(await page.$(row("measurement"))).toBeNull();
    await page.locator(row("study")).click();
    await seeWords(page, /Which lead is back/);
    await page.waitForFunction(() => !document.querySelector('[data-removed="study"]'));
    await page.locator(row("measurement")).click();
    await seeWords(page, /Nothing was removed in the last 30 days/);
    await goTo(page, `${server.url}/studies/${studyId}`);
    await seeWords(page, /84\d MB\/s/);
    expect(browser.complaints).toEqual([]);
  });
});
