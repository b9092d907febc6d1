import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { chromium, goTo, openBrowser, seeWords, type OpenBrowser } from "../support/browser";
import { until } from "../support/command";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { straightStudy } from "../support/made";
import { startServer, type Server } from "../support/server";

const why = chromium() ? whyNoDevices() : "needs Chromium";
if (why) console.warn(`skipped: pages by keyboard alone (${why})`);

describe.skipIf(why)("by keyboard alone", LONG, () => {
  let server: Server;
  let browser: OpenBrowser;
  let disk: Disk;
  let study: string;

  beforeAll(async () => {
    disk = makeDisk(128);
    server = await startServer();
    browser = await openBrowser();
    study = await straightStudy(server, "By keyboard", "usb-10g");
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const press = (...keys: Parameters<OpenBrowser["page"]["keyboard"]["press"]>[0][]) =>
    keys.reduce(
      (done, key) => done.then(() => browser.page.keyboard.press(key)),
      Promise.resolve(),
    );
  /** What has the focus, in its own words. */
  const focused = () =>
    browser.page.evaluate(() => {
      const at = document.activeElement as HTMLElement;
      if (at === document.body) return "";
      return `${at.getAttribute("name") ?? ""} ${at.dataset.name ?? ""} ${at.innerText ?? ""}`.trim();
    });
  /** Walks on with Tab until something has the focus. */
  const tabTo = async (words: RegExp) => {
    for (let left = 120; left > 0; left--) {
      if (words.test(await focused())) return;
      await press("Tab");
    }
    throw new Error(`Tab never comes to ${words}.`);
  };

  const everyPage: [string, () => string][] = [
    ["the studies", () => "/"],
    ["the answer", () => "/studies/demo-first"],
    ["the rigs", () => "/studies/demo-first/rigs"],
    ["Measure", () => `/studies/${study}/measure`],
    ["the shelf", () => "/shelf"],
    ["the link ledger", () => "/ledger"],
    ["Watch", () => "/watch?name=lo"],
    ["the hosts", () => "/hosts"],
  ];
  it.each(everyPage)(
    "reaches all there is to press on %s, and shows where it is",
    async (_, url) => {
      const { page } = browser;
      await goTo(page, server.url + url());
      const all = await page.evaluate(() => {
        const shown = (element: Element) =>
          element.checkVisibility() && !element.closest("[inert], [aria-hidden=true]");
        const found = [
          ...document.querySelectorAll("a[href], button, input, select, textarea, [tabindex]"),
        ].filter(
          (element) =>
            shown(element) &&
            // A group hands the focus on to one of its own.
            !element.matches("[role=group], [role=radiogroup]") &&
            !(element as HTMLButtonElement).disabled &&
            (element as HTMLElement).tabIndex >= 0,
        );
        found.forEach((element, i) => element.setAttribute("data-walk", String(i)));
        return found.length;
      });
      expect(all).toBeGreaterThan(4);
      const seen = new Set<string>();
      const unmarked: string[] = [];
      // What is still being asked of the system may bring more to press on the way.
      for (let left = 2 * all + 50; left > 0 && seen.size < all; left--) {
        await press("Tab");
        const [at, marked, text] = await page.evaluate(() => {
          const element = document.activeElement as HTMLElement;
          const { outlineStyle, boxShadow } = getComputedStyle(element);
          return [
            element.dataset.walk ?? null,
            outlineStyle !== "none" || boxShadow !== "none",
            element.outerHTML.slice(0, 120),
          ] as const;
        });
        if (at === null) continue;
        seen.add(at);
        if (!marked) unmarked.push(text);
      }
      expect(unmarked).toEqual([]);
      const left = await page.$$eval(
        "[data-walk]",
        (every, reached) =>
          every
            .filter((element) => !reached.includes((element as HTMLElement).dataset.walk!))
            .map((element) => element.outerHTML.slice(0, 200)),
        [...seen],
      );
      expect(left).toEqual([]);
    },
  );

  it("measures, makes a plan and pauses it, and watches with a mark", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/${study}/measure`);
    await tabTo(/^target/);
    await page.keyboard.type(disk.directory);
    await tabTo(/blocks, 16 in flight/);
    await press("Enter");
    for (const [field, text] of [
      ["seconds", "0.6"],
      ["repeats", "1"],
      ["reserve", "0 B"],
    ] as const) {
      await tabTo(new RegExp(`^${field}`));
      await page.keyboard.type(text);
    }
    await press("Enter");
    await page.waitForFunction(() => location.search.includes("m="));
    await page.waitForSelector('[data-status="done"]');

    await goTo(page, `${server.url}/studies/${study}/measure`);
    await tabTo(/Plan several runs/);
    await press("Enter");
    await tabTo(/^plan-repeats/);
    await press("Backspace");
    await page.keyboard.type("1");
    await press("Enter");
    // The disk is too small for the usual reserve: the plan says so, and waits.
    await page.waitForSelector('[data-plan="paused"]');
    await goTo(page, `${server.url}/studies/${study}/measure`);
    await page.waitForSelector('[data-plan="paused"]');
    await tabTo(/End the plan/);
    await press("Enter");
    await page.waitForSelector('[data-plan="aborted"]');

    await goTo(page, `${server.url}/watch`);
    await tabTo(/Pick what to watch/);
    await press("Enter");
    await page.waitForSelector("[cmdk-input]:focus");
    await page.keyboard.type(path.basename(disk.device));
    await until("the list has found it", () =>
      page.$('[cmdk-item][data-selected="true"]').then(Boolean),
    );
    await press("Enter");
    await page.waitForSelector(`[data-watched="${path.basename(disk.device)}"]`);
    await seeWords(page, /for \d/);
    await tabTo(/^mark/);
    await page.keyboard.type("begins here");
    await press("Enter");
    await seeWords(page, /start to begins here/);
    expect(browser.complaints).toEqual([]);
  });
});
