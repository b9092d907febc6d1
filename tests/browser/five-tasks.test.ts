import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { chromium, goTo, openBrowser, type OpenBrowser } from "../support/browser";
import { startServer, type Server } from "../support/server";

/**
 * What a tester wants to know of a study with dozens of runs, and reads on its first screen of 1280 x 800
 * without scrolling or pressing.
 */
describe.skipIf(!chromium())("five questions, answered on the first screen", () => {
  let server: Server;
  let browser: OpenBrowser;
  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
    await goTo(browser.page, `${server.url}/studies/demo-enclosures`);
    await browser.page.waitForFunction(() =>
      document
        .querySelector('nav[aria-label="Course of the study"]')
        ?.textContent?.includes("open"),
    );
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  /** The text of the first element that is seen whole without scrolling; empty where none is. */
  const seen = (selector: string) =>
    browser.page.$$eval(selector, (all) => {
      const whole = all.find((element) => {
        const { top, bottom, left, right, width } = element.getBoundingClientRect();
        return width > 0 && top >= 0 && left >= 0 && bottom <= innerHeight && right <= innerWidth;
      });
      return (
        (whole as HTMLElement | undefined)?.innerText.replaceAll(/[\u202f\u00a0\s]+/g, " ") ?? ""
      );
    });

  it("which part is slow, and how sure that is", async () => {
    expect(await seen("main h1")).toMatch(/^The Till enclosure limits rigs D to G to 59\d MB\/s/);
    expect(await seen("[data-finding] h2")).toMatch(/Till enclosure/);
    expect(await seen("[data-finding] h2 + span")).toMatch(/^shown, 9\d/);
  });

  it("what to do next", async () => {
    expect(await seen('aside[aria-label="Next step"]')).toMatch(/put K7 .* min/);
  });

  it("whether the enclosures deliver", async () => {
    const line = await browser.page.$$eval("main p, main div", (all) =>
      all
        .filter((one) => one.getBoundingClientRect().bottom <= innerHeight)
        .map((one) => (one as HTMLElement).innerText)
        .find((text) => /claims delivered/.test(text)),
    );
    expect(line).toMatch(/\d of \d claims delivered/);
    expect(line).toMatch(/short: .*Till by/);
  });

  it("whether a run was spoiled", async () => {
    expect(await seen('nav[aria-label="Course of the study"]')).toMatch(/60 runs, none doubtful/);
    await goTo(browser.page, `${server.url}/studies/demo-day`);
    expect(await seen('nav[aria-label="Course of the study"]')).toMatch(/runs, 3 doubtful/);
    expect(await seen("main h1")).toMatch(/^Rig E reads .* memory answered/);
    await goTo(browser.page, `${server.url}/studies/demo-enclosures`);
  });

  it("how far rig B is from its ceiling", async () => {
    const rows = await browser.page.$$eval("main li", (all) =>
      all
        .filter((one) => {
          const { top, bottom } = one.getBoundingClientRect();
          return top >= 0 && bottom <= innerHeight;
        })
        .map((one) => (one as HTMLElement).innerText.replaceAll(/[\u202f\u00a0\s]+/g, " ")),
    );
    expect(rows.find((text) => /^B Nunatak/.test(text))).toMatch(/88 % of its ceiling/);
  });

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
