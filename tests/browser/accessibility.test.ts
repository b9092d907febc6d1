import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
  chromium,
  goTo,
  openBrowser,
  seeWords,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { ROOT } from "../support/command";
import { LONG } from "../support/long";
import { startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";

/** Every page and every sheet over a page, in both themes, held against the rules of axe-core. */
describe.skipIf(why)("accessibility", () => {
  let server: Server;
  let browser: OpenBrowser;
  let empty: string;

  beforeAll(async () => {
    process.env.NERRIT_SYSTEM_ROOT = path.join(ROOT, "demo/systems/usb-480m-slow-hub");
    server = await startServer();
    delete process.env.NERRIT_SYSTEM_ROOT;
    browser = await openBrowser();
    const made = await fetch(`${server.url}/api/studies`, {
      method: "POST",
      body: JSON.stringify({ title: "An empty study" }),
    });
    empty = ((await made.json()) as { id: string }).id;
    const demand = {
      name: "Radar",
      streams: [],
      copies: [{ what: "card", direction: "write", gigabytes: 256, minutes: 20 }],
    };
    await fetch(`${server.url}/api/studies/demo-first/demands`, {
      method: "PUT",
      body: JSON.stringify([demand]),
    });
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const press = (words: string, kind = "button") =>
    browser.page.locator(`${kind} ::-p-text(${words})`).click();
  const sheet = () => browser.page.waitForSelector('[role="dialog"]');
  const demo = "/studies/demo-first";
  const boxes = "/studies/demo-enclosures";
  const nothing = async () => undefined;
  const states: [string, string, () => Promise<unknown>][] = [
    ["the studies", "/", async () => undefined],
    ["the answer, reading", demo, () => seeWords(browser.page, /run as designed/)],
    ["the answer, writing", `${demo}?direction=write`, async () => undefined],
    [
      "Compare",
      `${demo}/compare?against=demo-rig-k2`,
      () => seeWords(browser.page, /What it means/),
    ],
    [
      "Locate",
      "/studies/demo-enclosures/locate?rig=demo-box-k7&drill=haul&direction=read",
      async () => {
        await press("Other steps");
        await press("Minutes of each change");
        await press("How sure, and why");
      },
    ],
    ["Compare as a matrix", `${boxes}/compare?view=matrix&drill=haul`, nothing],
    [
      "a picture for a screen",
      `${boxes}/compare?drill=haul&direction=read`,
      async () => {
        await browser.page.locator('button[aria-label^="Save: Haul"]').click();
        await browser.page.locator('[role="menuitem"] ::-p-text(for a screen)').click();
        await sheet();
      },
    ],
    [
      "a trace as a clip",
      `${boxes}/compare?view=traces&drill=haul&direction=read`,
      async () => {
        await press("Save as a clip");
        await sheet();
      },
    ],
    ["Locate, a step back", `${boxes}/locate?rig=demo-box-till&direction=read&step=0`, nothing],
    ["Locate, drives by bays", "/studies/demo-base-camp/locate?drill=haul&direction=read", nothing],
    ["Judge", `${boxes}/judge`, nothing],
    ["Report", `${boxes}/report`, nothing],
    ["A part on paper", "/parts/demo-cornice/card", nothing],
    ["Issued reports", "/reports", nothing],
    ["Judge, questioned", `${boxes}/judge?claim=demo-cornice.2&tolerance=0.2`, nothing],
    [
      "what happened in a run",
      "/studies/demo-day/trace?run=demo-day-talus-long-fill-write-0",
      () => browser.page.waitForSelector('[role="img"] svg'),
    ],
    ["a part in all its rigs", "/parts/demo-moraine", () => seeWords(browser.page, /stands in/)],
    ["the rigs", `${demo}/rigs`, () => press("Change one part")],
    [
      "a measurement",
      `${demo}/measure?m=demo-rig-k5-read`,
      () => browser.page.waitForSelector('[aria-label^="Throughput"] svg'),
    ],
    ["the measure form, unfolded", `${demo}/measure`, () => press("blocks, 16 in flight")],
    ["Watch", "/watch?name=sdc", () => seeWords(browser.page, /gone|for \d/)],
    ["the archive", "/archive", nothing],
    ["the hosts", "/hosts", () => browser.page.waitForSelector("[data-host]")],
    [
      "a plan being put together, with what no system tells",
      `${demo}/measure`,
      async () => {
        await press("Test conditions");
        await press("Plan several runs");
        await browser.page.$$eval("button", (all) =>
          all.find(({ textContent }) => textContent?.startsWith("Settings of drill 1"))!.click(),
        );
        await browser.page.waitForSelector('[name="plan-1-depth"]');
      },
    ],
    [
      "the drives that are plugged in",
      `${demo}/rigs`,
      async () => {
        await press("Plugged in now");
        await seeWords(browser.page, /this is |this may be /);
      },
    ],
    ["a study without anything", "", async () => undefined],
    ["rigs of none", "/rigs", async () => undefined],
    ["nothing to measure", "/measure", async () => undefined],
    ["the shelf", "/shelf", async () => undefined],
    ["a shelf where nothing answers", "/shelf?q=zzz", async () => undefined],
    ["the link ledger", "/ledger?mode=usb-10g&mode=usb4-40g-pcie", async () => undefined],
    ["a page that is not there", "/nowhere", async () => undefined],
    [
      "a part being entered",
      "/shelf",
      async () => {
        await press("Add a part");
        await sheet();
        await press("What exactly it supports");
        await press("Thunderbolt, cards, SAS");
        await typeInto(browser.page, "claims", "10 Gpbs");
        await seeWords(browser.page, /not clear as a unit/);
        await press("Add it to the shelf");
        await seeWords(browser.page, /need another look/);
      },
    ],
    [
      "a rig being put together",
      `${demo}/rigs`,
      async () => {
        await press("Duplicate with a change");
        await sheet();
        await press("Bandwidth used by other devices on a link");
        await press("Add a device");
      },
    ],
    [
      "a list of parts",
      `${demo}/rigs`,
      async () => {
        await press("Add rigs");
        await (await browser.page.waitForSelector('button[data-name="place-host-port"]'))!.click();
        await seeWords(browser.page, /can stand here/);
      },
    ],
    [
      "what the system says of a rig",
      `${demo}/rigs`,
      async () => {
        await press("Compare with the system");
        await typeInto(browser.page, "system-path", "/media/moraine");
        await browser.page.keyboard.press("Enter");
        await seeWords(browser.page, /not as declared/);
      },
    ],
    [
      "a demand being described",
      demo,
      async () => {
        await press("Add a demand");
        await sheet();
        await press("Add a stream");
      },
    ],
    [
      "a mode being described",
      "/ledger",
      async () => {
        await press("Describe a mode of your own");
        await sheet();
      },
    ],
    [
      "a short list",
      "/shelf",
      async () => {
        await (await browser.page.waitForSelector('button[data-name="shelf-kind"]'))!.click();
        await browser.page.waitForSelector('[role="listbox"]');
      },
    ],
    [
      "the command palette",
      "/",
      async () => {
        await press("Ctrl K");
        await browser.page.waitForSelector("[cmdk-input]");
      },
    ],
    [
      "a notice with a way back",
      "/shelf?q=K2",
      async () => {
        await press("Retire");
        await seeWords(browser.page, /K2 is retired/);
      },
    ],
  ];

  /** Puts the page into a theme as the button in its head does. */
  const setTheme = (theme: string) =>
    browser.page.evaluate(async (chosen) => {
      document.documentElement.dataset.theme = chosen;
      await new Promise((drawn) => requestAnimationFrame(() => requestAnimationFrame(drawn)));
      await Promise.all(document.getAnimations().map(({ finished }) => finished));
    }, theme);

  /** A view of each kind. */
  const MAIN = [
    "the answer, reading",
    "Compare",
    "the measure form, unfolded",
    "a part being entered",
  ];
  it.each(states.filter(([name]) => MAIN.includes(name)))("%s", sound);
  it.each(states.filter(([name]) => !MAIN.includes(name)))("%s", LONG, sound);

  async function sound(name: string, url: string, reach: () => Promise<unknown>) {
    const { page } = browser;
    const within =
      url === "" || url === "/rigs" || url === "/measure" ? `/studies/${empty}${url}` : url;
    await goTo(page, server.url + within);
    await reach();
    // While a short list is open, all but the list is hidden from those who cannot see it.
    const shown = "[data-radix-select-viewport]";
    await setTheme("light");
    expect(await axeViolations(page, { within: shown }), name).toEqual([]);
    // The dark theme has other colours, and nothing else that is other.
    await setTheme("dark");
    const only = ["color-contrast"];
    expect(await axeViolations(page, { within: shown, only }), `${name}, dark`).toEqual([]);
    if (name.startsWith("a notice")) {
      await press("Undo");
      await page.waitForFunction(
        () => !document.querySelector("td .line-through, tr.line-through"),
      );
    }
  }

  it("complained of nothing", () => {
    // The page that is not there answers 404, and the browser says so.
    expect(browser.complaints.filter((text) => !/status of 404/.test(text))).toEqual([]);
  });

  it("opens, chooses and closes a short list by keys alone", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/shelf`);
    await page.focus('button[data-name="shelf-kind"]');
    await page.keyboard.press("Enter");
    // The list takes letters once one of its items has the focus.
    await page.waitForSelector('[role="option"]:focus');
    await page.keyboard.type("cab");
    await page.waitForFunction(() => document.activeElement?.textContent === "cable");
    await page.keyboard.press("Enter");
    await page.waitForFunction(() => new URLSearchParams(location.search).get("kind") === "cable");
    await chooseFrom(page, "shelf-kind", "every kind");
    await page.waitForFunction(() => new URLSearchParams(location.search).get("kind") === "");
  });
});
