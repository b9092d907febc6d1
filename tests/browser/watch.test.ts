import { execFile } from "node:child_process";
import fs from "node:fs";
import path from "node:path";
import { promisify } from "node:util";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { anyRecording } from "@/core/recording/any-recording";
import { KeptRecording } from "@/core/recording/kept";
import { readRecording } from "@/core/recording/recording-file";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
  chromium,
  goTo,
  openBrowser,
  pickFrom,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { LONG } from "../support/long";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { straightStudy } from "../support/made";
import { startServer, type Server } from "../support/server";
import { whyNoTracing } from "../support/tracing";

const why = chromium() ? whyNoDevices() : "needs Chromium";
if (why) console.warn(`skipped: Watch (${why})`);

describe.skipIf(why)("Watch, while another program copies", () => {
  let server: Server;
  let browser: OpenBrowser;
  let disks: Disk[];

  beforeAll(async () => {
    disks = [makeDisk(128), makeDisk(128)];
    server = await startServer();
    browser = await openBrowser();
    await straightStudy(server, "Cards", "usb-10g");
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    for (const disk of disks) disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const nameOf = (disk: Disk) => path.basename(disk.device);
  const copy = (from: string, to: string) =>
    promisify(execFile)("dd", [`if=${from}`, `of=${to}`, "bs=1M", "iflag=direct", "oflag=direct"]);
  /** Waits until the page shows another look at every counter. */
  const looked = async () => {
    const times = () =>
      browser.page.$$eval("[data-watched] [role=status]", (all) => all.map((e) => e.innerHTML));
    const before = await times();
    await expect
      .poll(async () => (await times()).every((time, i) => time !== before[i]), { interval: 50 })
      .toBe(true);
  };
  /** Megabytes that a row of the table says were moved. */
  const moved = async (row: RegExp, column: number) => {
    const rows = await browser.page.$$eval("[data-stretches] tbody tr", (all) =>
      all.map((tr) => [...tr.querySelectorAll("td")].map((td) => td.innerText)),
    );
    const found = rows.find((cells) => row.test(`${cells[0]} of ${cells[1]}`));
    return Number.parseFloat(found?.[column] ?? "NaN");
  };

  it("shows both sides of a copy, and what moved between two marks", LONG, async () => {
    const { page } = browser;
    const [a, b] = disks as [Disk, Disk];
    const file = path.join(a.directory, "source");
    fs.writeFileSync(file, Buffer.alloc(64 * 2 ** 20, 7));
    await promisify(execFile)("sync");
    await goTo(page, `${server.url}/watch`);
    // Every drive and interface has a row with its rates; pressing one watches it closely.
    await seeWords(page, /the last minute/);
    await page.waitForSelector('[data-listed="lo"]');
    const row = `[data-listed="${nameOf(a)}"]`;
    await expect
      .poll(() => page.$eval(`${row} td:last-child`, (cell) => cell.textContent))
      .toMatch(/\d/);
    expect(await axeViolations(page)).toEqual([]);
    await page.locator(`${row} button`).click();
    await page.waitForSelector(`[data-watched="${nameOf(a)}"]`);
    await pickFrom(page, "watch", `(${nameOf(b)})`);
    await page.waitForSelector(`[data-watched="${nameOf(b)}"]`);
    await seeWords(page, /for \d[\s\S]*for \d/);
    await typeInto(page, "mark", "copy starts");
    await page.keyboard.press("Enter");
    await seeWords(page, /start to copy starts/);
    await copy(file, path.join(b.directory, "copy"));
    // The counters were looked at again after it: of two further looks the second began after it.
    await looked();
    await looked();
    await typeInto(page, "mark", "copy ends");
    await page.keyboard.press("Enter");
    await seeWords(page, /copy starts to copy ends/);
    const during = (disk: Disk) => new RegExp(`^copy starts to copy ends of ${nameOf(disk)}$`);
    // 64 MiB are 67.1 MB; the file system's own notes are little beside that.
    expect(await moved(during(a), 3)).toBeCloseTo(67.1, -1);
    expect(await moved(during(b), 5)).toBeCloseTo(67.1, -1);
    await seeWords(page, new RegExp(`a copy from ${nameOf(a)} to ${nameOf(b)}`));
    expect(await axeViolations(page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
    expect(await textOf(page)).not.toMatch(/NaN|undefined|Infinity/);
  });

  it(
    "holds it against a rig's ceilings, and keeps the stretch between two marks as a run",
    LONG,
    async () => {
      const { page } = browser;
      const [, b] = disks as [Disk, Disk];
      await chooseFrom(page, `rig-of-${nameOf(b)}`, "Cards: A");
      await seeWords(page, /of the ceiling now[\s\S]*%/);
      await page.click(`[data-watched="${nameOf(b)}"] button ::-p-text(Keep as a run)`);
      await typeInto(page, "keep-title", "Card to disk");
      await chooseFrom(page, "keep-from", "copy starts");
      await chooseFrom(page, "keep-to", "copy ends");
      expect(await axeViolations(page)).toEqual([]);
      await page.locator("button ::-p-text(Keep it)").click();
      await page.locator("a ::-p-text(Look at it)").click();
      await seeWords(page, /Straight, Card to disk, writing/);
      await seeWords(page, /What happened meanwhile[\s\S]*copy starts/);
      await seeWords(page, /watched/);
      expect(await textOf(page)).not.toMatch(/Read the answer/);
      // What was watched is held against every rig of the study by one press.
      await page.locator('a[href*="/trace?run="]').click();
      await page.locator("button ::-p-text(Make a demand)").click();
      await page.locator("a ::-p-text(See which rigs of this study meet the demand)").click();
      await seeWords(page, /Run of .*, 99 of 100 seconds/);
      expect(browser.complaints).toEqual([]);
    },
  );

  it.skipIf(whyNoTracing())(
    "records what reaches a drive, and says what the work asks",
    async () => {
      const { page } = browser;
      const [a] = disks as [Disk, Disk];
      const name = nameOf(a);
      await goTo(page, `${server.url}/watch?name=${name}`);
      await page.waitForSelector(`[data-recordings="${name}"]`);
      const press = async (words: string) => {
        await page.waitForFunction(
          (wanted) =>
            [...document.querySelectorAll("button:not([aria-disabled])")].some((button) =>
              button.textContent?.startsWith(wanted),
            ),
          {},
          words,
        );
        await page.locator(`button ::-p-text(${words})`).click();
      };
      await press("Record requests");
      await seeWords(page, /Recording: 0 requests so far/);
      // The recorder has begun once its file has its first line.
      const kept = async () => {
        const answer = await fetch(`${server.url}/api/recordings?name=${name}`);
        return KeptRecording.array().parse(await answer.json());
      };
      await expect.poll(async () => (await kept())[0]!.bytes).toBeGreaterThan(0);
      await promisify(execFile)("dd", [
        `if=${a.device}`,
        "of=/dev/null",
        "bs=64k",
        "count=200",
        "iflag=direct",
      ]);
      await seeWords(page, /Recording: [2-9]\d\d requests so far/);
      expect(await axeViolations(page)).toEqual([]);
      await press("Stop recording");
      await seeWords(page, /The drive had something to do for/);
      await seeWords(page, /Read 13\.\d MB in 2\d\d requests/);
      await seeWords(page, /programs? sent requests, dd most/);
      await page.locator("button ::-p-text(sent requests)").click();
      await seeWords(page, /dd\s+2\d\d\s+13\.\d MB/);
      expect(await axeViolations(page)).toEqual([]);
      expect(await textOf(page)).not.toMatch(/NaN|undefined|Infinity/);
      const [{ id }] = (await kept()) as [KeptRecording];
      const saved = async (as: string) =>
        (await fetch(`${server.url}/api/recordings/${id}/${as}`)).text();
      const { requests } = readRecording(await saved("file"));
      expect(requests.filter(({ kind, bytes }) => kind === "read" && bytes === 65536)).toHaveLength(
        200,
      );
      expect(anyRecording(await saved("table")).requests).toEqual(requests);
      // The work as a demand, held against the rigs of a study.
      await chooseFrom(page, "demand-study", "Cards");
      await press("Make a demand");
      await page.locator("a ::-p-text(See which rigs of Cards meet the demand)").click();
      await seeWords(page, /Recorded .*, 99 of 100 seconds/);
      await goTo(page, `${server.url}/watch?name=${name}`);
      await seeWords(page, /The drive had something to do for/);
      await press("Delete");
      await page.waitForFunction(() => !/had something to do/.test(document.body.innerText));
      expect(await kept()).toEqual([]);
      expect(browser.complaints).toEqual([]);
    },
  );

  it("sets a mark by a key, and says in the address what is watched", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/watch?name=lo`);
    await seeWords(page, /for \d/);
    await page.click("h1");
    await page.keyboard.press("m");
    await seeWords(page, /start to mark 1/);
    await goTo(page, `${server.url}/watch?name=no-such-thing`);
    await seeWords(page, /counts nothing for no-such-thing/);
    const answer = await fetch(`${server.url}/api/watch/events?name=no-such-thing`);
    expect(answer.status).toBe(422);
  });
});
