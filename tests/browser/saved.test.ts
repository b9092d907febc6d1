import fs from "node:fs";
import Papa from "papaparse";
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
import { LONG } from "../support/long";
import { savedFrom, type Saved } from "../support/saved";
import { startServer, type Server } from "../support/server";

const FIRST = "/studies/demo-first";

describe.skipIf(!chromium())("what leaves the pages, and the unit they are read in", LONG, () => {
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
  const parsed = (svg: Buffer) =>
    browser.page.evaluate((text) => {
      const root = new DOMParser().parseFromString(text, "image/svg+xml").documentElement;
      return {
        sound: root.tagName === "svg" && root.querySelector("parsererror") === null,
        words: [...root.querySelectorAll("text")].map(({ textContent }) => textContent).join(" "),
        boxes: root.querySelectorAll("rect").length,
        fonts: [...root.querySelectorAll("style")].map(({ textContent }) => textContent).join(""),
      };
    }, svg.toString("utf8"));

  it("carries the drawing of the answer with its own fonts", async () => {
    await open(FIRST);
    const svg = await parsed(await saved.save("Which cable", "SVG"));
    expect(svg.sound).toBe(true);
    expect(svg.words).toMatch(/K2[\s\S]*448[\s\S]*Simulated sample data/);
    const faces = svg.fonts.split("@font-face").slice(1);
    for (const family of ["Barlow Semi Condensed", "IBM Plex Mono", "Newsreader"])
      expect(faces.some((face) => face.includes(family) && face.includes("data:"))).toBe(true);
    const rows = Papa.parse<string[]>(
      (await saved.save("Which cable", "CSV")).toString("utf8").trim(),
    ).data;
    const bottleneck = rows.filter((row) => row.includes("bottleneck")).map((row) => row[2]);
    expect(bottleneck).toEqual(["Serac", "K2"]);
  });

  it("carries an account of the ledger as a table, and the chart of modes with its bars", async () => {
    await open("/ledger?mode=usb-5g");
    const rows = Papa.parse<string[]>(
      (await saved.save("USB 5 Gb/s", "CSV")).toString("utf8").trim(),
    ).data;
    expect(rows[1]!.slice(0, 1).concat(rows[1]![3]!)).toEqual(["signalling", "625"]);
    const chart = await parsed(await saved.save("What links carry", "SVG"));
    expect(chart.sound).toBe(true);
    expect(chart.boxes).toBeGreaterThan(60);
  });

  it("writes every rate in the unit of the reader, in sentences too", async () => {
    await open(FIRST);
    await clickOn(browser.page, "header button", "MB/s");
    await clickOn(browser.page, '[role="menuitemradio"]', "Gb/s");
    await seeWords(browser.page, /limits rig B to 3\.5\d Gb\/s/);
    for (const page of [FIRST, `${FIRST}/rigs`, `${FIRST}/compare`, "/ledger", "/shelf", "/"]) {
      await open(page);
      // Prices for 100 MB/s, what good bridges do, and what is typed in stay in MB/s.
      const words = (await textOf(browser.page))
        .replaceAll(
          /for (each )?100 MB\/s|experience: .*|used by other devices, MB\/s|\bMB\/s\n/gi,
          "",
        )
        .replaceAll(/^Convert[\s\S]*/gm, "");
      expect(words).not.toMatch(/\d MB\/s/);
    }
  });

  it("opens the form with the rig that would make a comparison sound", async () => {
    await open("/studies/demo-enclosures/compare?against=demo-box-hub");
    await clickOn(browser.page, "a", "Build this rig");
    await seeWords(browser.page, /A rig, from host to drive/);
    const like = new URL(browser.page.url()).searchParams;
    const parts = await browser.page.$$eval('[role="dialog"] fieldset li', (all) => all.length);
    expect(parts).toBe(like.getAll("part").length);
  });

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
