import fs from "node:fs";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { answerFor } from "@/core/answer/study";
import { conclusionsIn } from "@/cli/studies/study-file";
import { StudyFile, studyOf } from "@/core/exchange/study-file";
import { claimsTold } from "@/core/judge/tell";
import { ANSWER_STUDIES } from "../support/answer-studies";
import { chromium, goTo, openBrowser, textOf, type OpenBrowser } from "../support/browser";
import { LONG } from "../support/long";
import { startServer, type Server } from "../support/server";

/** Text as it is compared: with plain spaces. */
const plain = (text: string) => text.replaceAll(/[\u202f\u00a0\s]+/g, " ").trim();

/** What the conclusions of a study say, apart from any page. */
function concluded(name: string) {
  const conclusions = conclusionsIn(studyOf(StudyFile.parse(ANSWER_STUDIES[name])));
  const answer = answerFor(conclusions, "read");
  const inRigs = new Set(conclusions.rigs.flatMap(({ parts }) => parts.map(({ id }) => id)));
  return {
    headline: plain(
      answer.headline.map((sentence) => sentence.map(({ text }) => text).join("")).join(" "),
    ),
    titles: answer.told.map(({ title }) => plain(title)),
    next: answer.next && plain(answer.next.text),
    claims: claimsTold(conclusions.judged().filter(({ part }) => inRigs.has(part.id))).map(
      ({ text }) => plain(text),
    ),
  };
}

describe.skipIf(!chromium())("the answer page", () => {
  let browser: OpenBrowser;
  beforeAll(async () => {
    browser = await openBrowser();
  });
  afterAll(() => browser?.close());

  const FIRST = ["one culprit in several rigs", "a rate that cannot be"];
  const others = Object.keys(ANSWER_STUDIES).filter((name) => !FIRST.includes(name));

  describe.each(FIRST)("of a study of %s", answers);
  describe.each(others)("of a study of %s", LONG, answers);

  // A server each: the parts of other studies would stand on its shelf.
  function answers(name: string) {
    let server: Server;
    let study: string;
    beforeAll(async () => {
      server = await startServer();
      const body = JSON.stringify(ANSWER_STUDIES[name]);
      const sent = await fetch(`${server.url}/api/studies/file`, { method: "POST", body });
      study = ((await sent.json()) as { id: string }).id;
    });
    afterAll(async () => {
      // What the page still asks for would be cut off.
      await browser.page.goto("about:blank");
      await server?.end();
      if (server) fs.rmSync(server.data, { recursive: true, force: true });
    });

    const openAt = async (width: number) => {
      await browser.page.setViewport({ width, height: 800 });
      await goTo(browser.page, `${server.url}/studies/${study}`);
    };
    const letters = () =>
      browser.page.$$eval("[data-rig]", (all) =>
        all.map((one) => one.getAttribute("data-rig")).join(""),
      );

    it.each([1280, 390])(
      "says what its conclusions say, nothing cut off, at %d px",
      async (width) => {
        const { page } = browser;
        await openAt(width);
        const { headline, titles, next, claims } = concluded(name);
        expect(plain(await textOf(page, "h1"))).toBe(headline);
        const headings = await page.$$eval("section[data-finding] h2", (all) =>
          all.map((one) => one.textContent),
        );
        expect(headings.map(plain)).toEqual(titles);
        const step = await page.$('[aria-label="Next step"]');
        expect(step !== null).toBe(next !== null);
        if (next) expect(plain(await textOf(page, '[aria-label="Next step"]'))).toContain(next);
        const line = plain(await textOf(page, '[aria-label="Claims"]'));
        for (const text of claims) expect(line).toContain(text);
        const isCut = await page.evaluate(
          () => document.documentElement.scrollWidth > window.innerWidth,
        );
        expect(isCut).toBe(false);
        if (width < 1280) return;
        const lines = await page.$eval("h1", (element) => {
          const { lineHeight } = getComputedStyle(element);
          return element.getBoundingClientRect().height / parseFloat(lineHeight);
        });
        expect(lines).toBeLessThan(2.1);
      },
    );

    if (name === "one culprit in several rigs") {
      it("names it once, over all of them, and orders rigs by rate and letter", async () => {
        const { page } = browser;
        await openAt(1280);
        expect(await textOf(page, "h1")).toMatch(/able K9 .*rigs D to F/);
        expect(await letters()).toMatch(/^[DEF]{3}/);
        await page.locator("button ::-p-text(by letter)").click();
        await expect.poll(letters).toBe("ABCDEFG");
        await page.locator("button ::-p-text(by rate)").click();
        await expect.poll(letters).toMatch(/^A.*E$/);
      });
    }

    if (name === "a rate that cannot be") {
      it("leaves its run out by the button, and is as designed without", async () => {
        const { page } = browser;
        await openAt(1280);
        expect(await textOf(page, "h1")).toMatch(/memory .*answered/);
        await page.locator("button ::-p-text(Leave )").click();
        await page.waitForFunction(() =>
          /as designed/.test(document.querySelector("h1")!.innerText),
        );
      });
    }

    if (name === "200 rigs") {
      it("draws bars, and channels of the first where they are asked for", async () => {
        const { page } = browser;
        await openAt(1280);
        expect(await page.$$eval("main svg[role=img]", (all) => all.length)).toBe(0);
        expect(await page.$$eval("[data-rig]", (all) => all.length)).toBe(200);
        await page.locator("a ::-p-text(as channels)").click();
        await page.waitForSelector("main svg[role=img]");
        expect(await page.$$eval("[data-rig]", (all) => all.length)).toBe(40);
      });
    }
  }

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
