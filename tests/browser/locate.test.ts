import fs from "node:fs";
import Papa from "papaparse";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  type OpenBrowser,
} from "../support/browser";
import { savedFrom, type Saved } from "../support/saved";
import { startServer, type Server } from "../support/server";

const BOXES = "/studies/demo-enclosures/locate";

describe.skipIf(!chromium())("locating what holds a rig back", () => {
  let server: Server;
  let browser: OpenBrowser;
  let saved: Saved;
  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
    saved = await savedFrom(browser.page);
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    saved?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });
  const open = (url: string) => goTo(browser.page, server.url + url);

  it("says of a slow rig which part it is, how sure that is, and by which runs", async () => {
    const { page } = browser;
    await open(`${BOXES}?drill=haul&direction=read&rig=demo-box-k7`);
    await seeWords(page, /cable K7 holds its link to a slower mode/);
    await seeWords(page, /for: 437 MB\/s lies where a 5 Gb\/s link does/);
    await clickOn(page, "section a", "runs");
    await page.waitForFunction(() => window.location.search.includes("m=demo-"));
  });

  it("shows what each part has carried, and lets it be saved", async () => {
    await open(`${BOXES}?drill=haul&direction=read&rig=demo-box-k7`);
    const rows = Papa.parse<string[]>(
      (await saved.save("What the parts of rig F", "CSV")).toString("utf8").trim(),
      { header: true },
    ).data as unknown as Record<string, string>[];
    const state = (name: string) => rows.find(({ what }) => what === name)?.state;
    expect(state("K7")).toBe("suspect");
    expect(state("Serac")).toBe("cleared");
  });

  it("goes from rig to rig, and says which are as designed", async () => {
    const { page } = browser;
    await open(`${BOXES}?drill=haul&direction=read`);
    await clickOn(page, "li a", "Till, Esker inside");
    await seeWords(page, /the Till enclosure has a limit of its own/);
    await clickOn(page, "li a", "Nunatak");
    await seeWords(page, /Nunatak gives 3.632 MB\/s reading: nothing is wrong/);
    await seeWords(page, /Nothing is left to find out here/);
  });

  it("puts the next swap together on the rigs page", async () => {
    const { page } = browser;
    await open(`${BOXES}?drill=haul&direction=read&rig=demo-box-till`);
    await seeWords(page, /Next: /);
    await clickOn(page, "section a", "Put it together");
    await seeWords(page, /A rig, from host to drive/);
    const asked = new URL(page.url()).searchParams;
    const parts = await page.$$eval('[role="dialog"] fieldset li', (all) => all.length);
    expect(parts).toBe(asked.getAll("part").length);
  });

  it("says what to do first in a study in which nothing was measured", async () => {
    const { page } = browser;
    await open("/");
    await page.type('input[name="title"]', "Nothing yet");
    await clickOn(page, "button", "Start the study");
    await page.waitForFunction(() => /\/studies\/[0-9a-f-]{36}/.test(window.location.pathname));
    const { pathname } = new URL(page.url());
    await open(`${pathname.split("/").slice(0, 3).join("/")}/locate`);
    await seeWords(page, /nothing can be located/);
  });

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
