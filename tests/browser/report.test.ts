import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { strFromU8, unzipSync } from "fflate";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  type OpenBrowser,
} from "../support/browser";
import { LONG } from "../support/long";
import { savedFrom } from "../support/saved";
import { startServer, type Server } from "../support/server";

const BOXES = "demo-enclosures";
const FIRST = "demo-first";
const HOSTILE = `"><script>alert(1)</script> \u202e=cmd() ${"x".repeat(40)}`;

describe.skipIf(!chromium())("the report of a study", () => {
  let server: Server;
  let browser: OpenBrowser;
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-read-"));
  beforeAll(async () => {
    server = await startServer();
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    for (const one of [server.data, folder]) fs.rmSync(one, { recursive: true, force: true });
  });
  const open = (url: string) => goTo(browser.page, server.url + url);
  /** The text of the report that the page shows. */
  const shown = async () => {
    const frame = await browser.page.waitForSelector("iframe");
    const inner = await frame!.contentFrame();
    // It is made in a thread while two other suites keep the processors at work.
    await inner.waitForSelector("main");
    return inner.evaluate(() => document.body.innerText);
  };
  const report = async (study: string, query = "") => {
    const answer = await fetch(`${server.url}/api/studies/${study}/report${query}`);
    expect(answer.status).toBe(200);
    return Buffer.from(await answer.arrayBuffer());
  };

  it("is the last stage of the course: the report as it stands, answer first", LONG, async () => {
    const { page } = browser;
    await open(`/studies/${BOXES}`);
    await clickOn(page, "nav a", "Report");
    await seeWords(page, /Not issued yet/);
    const text = await shown();
    expect(text).toMatch(
      /Which enclosure keeps its word[\s\S]*Answer[\s\S]*Till[\s\S]*Does it deliver\?/,
    );
    expect(text).toMatch(/made up by the simulated bench/);
  });

  it("writes numbers and days as the pages do: one setting for both", LONG, async () => {
    const { page } = browser;
    const write = (writing: object) =>
      fetch(`${server.url}/api/writing`, {
        method: "PUT",
        headers: { "Content-Type": "application/json", Origin: server.url },
        body: JSON.stringify(writing),
      });
    await open(`/studies/${BOXES}/compare?drill=haul&direction=read`);
    await (await page.waitForSelector('button[aria-label^="Unit of rates"]'))!.click();
    const loaded = page.waitForNavigation();
    await clickOn(page, '[role="menuitemradio"]', "1.234,5");
    await loaded;
    // Drawn by the server, and drawn again in the browser.
    await seeWords(page, /2\.\d\d\d/);
    expect(await (await fetch(`${server.url}/studies/${BOXES}/compare`)).text()).toMatch(
      /2\.\d\d\d/,
    );
    await write({ numbers: "1.234,5", dates: "November 26, 2026" });
    await open(`/studies/${FIRST}/report`);
    expect(await shown()).toMatch(/[A-Z][a-z]+ \d{1,2}, 2026[\s\S]*\d,\d\d/);
    expect((await write({ numbers: "1_234" })).status).toBe(422);
    expect((await write({})).status).toBe(200);
    await open(`/studies/${FIRST}/report`);
    expect(await shown()).toMatch(/2026-\d\d-\d\d[\s\S]*\d\.\d\d/);
  });

  it("is chosen by the tester, at once: sections, unit, own words", LONG, async () => {
    const { page } = browser;
    await open(`/studies/${FIRST}/report`);
    await shown();
    await clickOn(page, "label", "Gear");
    await expect.poll(shown).not.toMatch(/\nGear\n/);
    await chooseFrom(page, "report-unit", "Gb/s");
    await expect.poll(shown).toMatch(/reading, Gb\/s/);
    await clickOn(page, "li button", "Add your own words");
    const own = await page.waitForSelector('textarea[aria-label*="Answer"]');
    await own!.type("Measured in the **cold** hut. <b>no markup</b>");
    await page.keyboard.press("Tab");
    await expect.poll(shown).toMatch(/in the cold hut\. <b>no markup<\/b>/);
    // It stays when the page is left.
    await open(`/studies/${FIRST}/report`);
    expect(await shown()).toMatch(/in the cold hut/);
  });

  it("is issued under a number, and stays what it was", async () => {
    const { page } = browser;
    await open(`/studies/${FIRST}/report`);
    await clickOn(page, "button", "Issue it as number 1");
    await seeWords(page, /1 issue, the last on/);
    const first = await report(FIRST, "/issues/1");
    await chooseFrom(page, "report-unit", "MB/s");
    await clickOn(page, "button", "Issue it as number 2");
    await seeWords(page, /2 issues/);
    expect(Buffer.compare(await report(FIRST, "/issues/1"), first)).toBe(0);
    expect((await report(FIRST, "/issues/2")).includes("What changed since the last issue")).toBe(
      true,
    );
    await open("/reports");
    await seeWords(page, /Issue 2[\s\S]*Issue 1/);
  });

  it("is read from a disk with the network off, at any width, by day and night", LONG, async () => {
    const file = path.join(folder, "report.html");
    fs.writeFileSync(file, await report(BOXES));
    expect(fs.statSync(file).size).toBeLessThan(2e6);
    const { page } = browser;
    // The page before asks the server now and then: it is left first.
    await page.goto("about:blank");
    const asked: string[] = [];
    const note = (request: { url(): string }) => asked.push(request.url());
    page.on("request", note);
    await page.setOfflineMode(true);
    try {
      for (const [width, scheme] of [
        [1280, "light"],
        [390, "dark"],
      ] as const) {
        await page.setViewport({ width, height: 800 });
        await page.emulateMediaFeatures([{ name: "prefers-color-scheme", value: scheme }]);
        await page.goto(`file://${file}`, { waitUntil: "load" });
        const seen = await page.evaluate(async () => {
          await document.fonts.ready;
          const drawings = [...document.querySelectorAll("figure > .scroll > svg")];
          return {
            drawn: drawings.every((one) => one.getBoundingClientRect().height > 40),
            count: drawings.length,
            wider: document.documentElement.scrollWidth - innerWidth,
            fonts: [...document.fonts].filter(({ status }) => status === "loaded").length,
          };
        });
        expect(seen).toMatchObject({ drawn: true, wider: 0 });
        expect(seen.count).toBeGreaterThan(4);
        expect(seen.fonts).toBeGreaterThan(3);
        expect(await axeViolations(page)).toEqual([]);
      }
      expect(asked.filter((url) => !/^(file|data):/.test(url))).toEqual([]);
    } finally {
      page.off("request", note);
      await page.setOfflineMode(false);
      await page.emulateMediaFeatures([]);
      await page.setViewport({ width: 1280, height: 800 });
    }
  });

  it("is printed on numbered pages, with no picture and no line of a table cut", LONG, async () => {
    const { page } = browser;
    await page.goto(`file://${path.join(folder, "report.html")}`, { waitUntil: "load" });
    const pdf = Buffer.from(await page.pdf({ preferCSSPageSize: true, printBackground: true }));
    const pages = pdf.toString("latin1").match(/\/Type\s*\/Page\b/g)!.length;
    expect(pages).toBeGreaterThan(5);
    // The number of each page, and of all, stands at its foot, with what was not measured.
    const foot = await page.evaluate(() =>
      [...document.styleSheets]
        .flatMap((sheet) => [...sheet.cssRules])
        .filter((rule) => rule instanceof CSSPageRule)
        .map((rule) => rule.cssText)
        .join(),
    );
    expect(foot).toMatch(/counter\(page\)[\s\S]*counter\(pages\)/);
    expect(foot).toMatch(/made up by the simulated bench/);
    await page.emulateMediaType("print");
    const cut = await page.evaluate(() => {
      // A4 less its margins, at 96 dots an inch.
      const height = (297 - 16 - 18) * (96 / 25.4);
      document.body.style.width = `${(210 - 30) * (96 / 25.4)}px`;
      const of = (selector: string) => [...document.querySelectorAll<HTMLElement>(selector)];
      return {
        breakable: of("figure, tbody tr").filter(
          (one) => getComputedStyle(one).breakInside !== "avoid",
        ).length,
        tooTall: of("figure, tbody tr").filter((one) => one.offsetHeight > height).length,
        heads: of("thead").filter((one) => getComputedStyle(one).display !== "table-header-group")
          .length,
        tooWide: of("table").filter((one) => one.offsetWidth > document.body.offsetWidth + 1)
          .length,
      };
    });
    await page.emulateMediaType(undefined);
    expect(cut).toEqual({ breakable: 0, tooTall: 0, heads: 0, tooWide: 0 });
  });

  it("hands out every picture and table by itself", LONG, async () => {
    const { page } = browser;
    await open(`/studies/${BOXES}/report`);
    const saved = await savedFrom(page);
    try {
      await clickOn(page, "button", "Pictures and tables one by one");
      const press = (label: string) => async () =>
        (await page.waitForSelector(`button[aria-label="${label}"]`))!.click();
      const name = "answer-haul-read-1.svg as";
      const sizeOf = (png: Buffer) => png.readUInt32BE(16);
      const once = await saved.saveBy(press(`${name} PNG`));
      const twice = await saved.saveBy(press(`${name} PNG of twice the size`));
      expect(sizeOf(twice)).toBe(2 * sizeOf(once));
      const svg = (await saved.saveBy(press(`${name} SVG`))).toString();
      expect(svg).toMatch(/<title>What each stage can carry/);
      expect(svg).toMatch(/made up by the simulated bench/);
      const csv = (await saved.saveBy(press("glance.csv as CSV"))).toString();
      expect(csv).toMatch(/^At a glance\r?\n/);
    } finally {
      saved.end();
    }
  });

  it("shows a picture of the bench, without what was hidden in it", LONG, async () => {
    const { page } = browser;
    const picture = await page.evaluate(async () => {
      const canvas = document.createElement("canvas");
      canvas.width = canvas.height = 40;
      canvas.getContext("2d")!.fillRect(5, 5, 20, 20);
      const blob = await new Promise<Blob | null>((resolve) =>
        canvas.toBlob(resolve, "image/jpeg"),
      );
      return [...new Uint8Array(await blob!.arrayBuffer())];
    });
    const secret = Buffer.from("at 46.5 N 7.9 E");
    const comment = Buffer.concat([Buffer.from([0xff, 0xfe, 0, secret.length + 2]), secret]);
    const file = path.join(folder, "Our bench.jpg");
    fs.writeFileSync(
      file,
      Buffer.concat([Buffer.from(picture.slice(0, 2)), comment, Buffer.from(picture.slice(2))]),
    );
    await open(`/studies/${FIRST}/report`);
    const input = await page.waitForSelector('input[type="file"]');
    await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(file);
    await page.waitForSelector('img[alt="Our bench"]');
    await expect.poll(async () => (await report(FIRST)).includes('alt="Our bench"')).toBe(true);
    expect((await report(FIRST)).includes(secret.toString("base64").slice(4, 12))).toBe(false);
    const files = unzipSync(await report(FIRST, "?form=zip"));
    expect(Buffer.from(files["pictures/photo-1.jpg"]!).includes("46.5 N")).toBe(false);
    const refused = await fetch(`${server.url}/api/photos`, {
      method: "POST",
      body: "<svg onload=alert(1)/>",
    });
    expect(refused.status).toBe(422);
  });

  it("shows the pictures of a rig on its card", LONG, async () => {
    const { page } = browser;
    await open(`/studies/${FIRST}/rigs`);
    await clickOn(page, "button", "Edit");
    await clickOn(page, "button", "Pictures of the rig");
    const input = await page.waitForSelector('[role="dialog"] input[type="file"]');
    const upload = input as unknown as { uploadFile(path: string): Promise<void> };
    await upload.uploadFile(path.join(folder, "Our bench.jpg"));
    await page.waitForSelector('[role="dialog"] img[alt="Our bench"]');
    expect(await axeViolations(page)).toEqual([]);
    await clickOn(page, "button", "Save the rig");
    await page.waitForSelector('[data-photos="1"] img[alt="Our bench"]');
  });

  it("keeps hostile words words", LONG, async () => {
    const studies = `${server.url}/api/studies`;
    const saved = (await (await fetch(`${studies}/demo-first/file`)).json()) as {
      title: string;
      rigs: { name: string }[];
      parts: { name: string }[];
      report?: unknown;
    };
    const file = {
      ...saved,
      title: HOSTILE,
      report: { sections: [{ key: "answer", text: HOSTILE }] },
      rigs: saved.rigs.map((rig) => ({ ...rig, name: HOSTILE.slice(0, 80) })),
      parts: saved.parts.map((part) => ({ ...part, name: HOSTILE.slice(0, 80) })),
    };
    const taken = await fetch(`${studies}/file`, { method: "POST", body: JSON.stringify(file) });
    const { id } = (await taken.json()) as { id: string };
    const { page } = browser;
    const alerts: string[] = [];
    page.on("dialog", (dialog) => {
      alerts.push(dialog.message());
      void dialog.dismiss();
    });
    await open(`/studies/${id}/report`);
    expect(await shown()).toContain('"><script>alert(1)</script>');
    const [html] = [await report(id)];
    fs.writeFileSync(path.join(folder, "hostile.html"), html);
    await page.goto(`file://${path.join(folder, "hostile.html")}`, { waitUntil: "load" });
    expect(await page.$$("script")).toHaveLength(0);
    expect(await axeViolations(page)).toEqual([]);
    expect(alerts).toEqual([]);
    const files = unzipSync(await report(id, "?form=zip"));
    expect(/<script/.test(strFromU8(files["report.md"]!))).toBe(false);
  });

  it(
    "prints a part on one page, and its rigs side by side with the columns that are picked",
    LONG,
    async () => {
      const { page } = browser;
      await open("/parts/demo-moraine/card");
      expect(await shown()).toMatch(
        /Moraine 1T[\s\S]*What it has been shown to carry[\s\S]*Every rig/,
      );
      await clickOn(page, "button", "Side by side");
      await expect.poll(shown).toMatch(/comparison sheet[\s\S]*Haul, reading, MB\/s/);
      await clickOn(page, "label", "price of the path");
      await expect.poll(shown).toMatch(/price of the path/);
      await page.goto(`${server.url}/api/parts/demo-moraine/report`, { waitUntil: "load" });
      const pdf = Buffer.from(await page.pdf({ preferCSSPageSize: true }));
      expect(pdf.toString("latin1").match(/\/Type\s*\/Page\b/g)).toHaveLength(1);
    },
  );

  it("says what there is not", async () => {
    for (const url of [
      "/api/studies/nobody/report",
      `/api/studies/${BOXES}/report/issues/99`,
      "/api/parts/nobody/report",
    ])
      expect((await fetch(server.url + url)).status, url).toBe(404);
    const choice = JSON.stringify({ unit: "furlongs" });
    const put = await fetch(`${server.url}/api/studies/${BOXES}/report`, {
      method: "PUT",
      body: choice,
    });
    expect(put.status).toBe(422);
  });
});
