import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
  chromium,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { nerrit } from "../support/command";
import { HERE, measuredIn, measureElsewhere, whyNoProgram } from "../support/elsewhere";
import { LONG } from "../support/long";
import { makeDisk, Throttle, whyNoThrottle, type Disk } from "../support/loop-device";
import { straightStudy } from "../support/made";
import { startServer, type Server } from "../support/server";

const why = chromium() ? whyNoThrottle() : "needs Chromium";
if (why) console.warn(`skipped: live runs and runs from elsewhere (${why})`);

describe.skipIf(why)("a run live, its conditions, and runs from a file", LONG, () => {
  let server: Server;
  let browser: OpenBrowser;
  let disk: Disk;
  let throttle: Throttle;
  let study: string;

  beforeAll(async () => {
    disk = makeDisk(128);
    server = await startServer();
    throttle = new Throttle(disk);
    throttle.set(40);
    throttle.hold(server.process.pid!);
    browser = await openBrowser();
    study = await straightStudy(server, "Live and from elsewhere", "usb-480m");
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    throttle.remove();
    disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const measurePage = () => goTo(browser.page, `${server.url}/studies/${study}/measure`);
  const press = (words: string) => browser.page.locator(`button ::-p-text(${words})`).click();
  const sound = async () => {
    expect(await axeViolations(browser.page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
  };
  const ended = () => browser.page.waitForSelector('[data-status="done"]');
  /** Fills the form for a short run that leaves no reserve. */
  const fill = async (seconds: string) => {
    const { page } = browser;
    await typeInto(page, "target", disk.directory);
    await press("blocks, 16 in flight");
    await typeInto(page, "seconds", seconds);
    await typeInto(page, "span", "16 MiB");
    await typeInto(page, "repeats", "1");
    await typeInto(page, "reserve", "0 B");
  };

  it("shows the rate large, with its mean, the mean latency, and the time left", async () => {
    const { page } = browser;
    await measurePage();
    await fill("6");
    await press("Test conditions");
    await typeInto(page, "stated-ambient", "21.5");
    await chooseFrom(page, "stated-fan", "none");
    await browser.page.locator('form button[type="submit"] ::-p-text(Measure)').click();
    await page.waitForSelector("[data-live-rate]");
    await page.waitForFunction(() => {
      const shown = document.querySelector("[data-live-rate]")?.textContent ?? "";
      return Math.abs(Number.parseFloat(shown) - 40) < 4;
    });
    const live = await textOf(page, "[data-live]");
    expect(live).toMatch(/% of the ceiling/);
    // 16 requests of 512 KiB in flight at 40 MB/s: each takes about 210 ms.
    expect(live).toMatch(/mean latency\s+(1[5-9]\d|2\d\d) ms/);
    expect(live).toMatch(/time left\s+about \d/);
    expect(live).toMatch(/temperature\s+not reported/);
    await sound();
    await ended();
    await seeWords(page, /Read the answer/);
  });

  it("keeps what was said of the bench, and carries it over to the next run", async () => {
    const { page } = browser;
    await measurePage();
    await seeWords(page, /room temperature: 21.5 °C · fan: none/);
    await fill("1");
    await press("Test conditions");
    await typeInto(page, "stated-ambient", "very warm");
    await seeWords(page, /must be a temperature in °C/);
    await typeInto(page, "stated-ambient", "24");
    await chooseFrom(page, "stated-fan", "blows on the drive");
    await browser.page.locator('form button[type="submit"] ::-p-text(Measure)').click();
    await page.waitForFunction(() => location.search.includes("m="));
    await ended();
    await seeWords(
      page,
      /Other conditions than for the run before.*room temperature 24 °C, then 21.5 °C; fan blows on the drive, then none/,
    );
    // The run's page is laid out anew once the whole of the run has come: what was unfolded is closed then.
    await expect
      .poll(
        async () => {
          const words = await textOf(page);
          if (!/file system\s+ext4/.test(words))
            await press("Conditions, as the system told them and you said");
          return textOf(page);
        },
        { interval: 1000 },
      )
      .toMatch(/file system\s+ext4/);
    await sound();
  });

  it("takes in what was measured elsewhere, with every sample, and says what is no such file", async () => {
    const { page } = browser;
    const out = path.join(server.data, "elsewhere.json");
    const args = ["--span", "8MiB", "--seconds", "0.6", "--reserve", "0B", "--repeats", "2"];
    const measured = await nerrit([
      "measure",
      "--target",
      disk.directory,
      "--direction",
      "read",
      ...args,
      "--out",
      out,
      "--rig",
      "Bare machine",
    ]);
    expect(measured.status).toBe(0);
    const text = fs.readFileSync(out, "utf8");
    const cut = path.join(server.data, "cut.json");
    fs.writeFileSync(cut, text.slice(0, -20));
    const other = path.join(server.data, "other.json");
    fs.writeFileSync(other, '{"format":"<img src=x onerror=window.broken=1>","version":1}');

    await measurePage();
    const pick = async (file: string) => {
      const input = await page.waitForSelector('input[aria-label="A file of runs"]');
      await (input as unknown as { uploadFile(path: string): Promise<void> }).uploadFile(file);
    };
    await pick(cut);
    await seeWords(page, /cut\.json: is no JSON, or was cut off/);
    await page.keyboard.press("Escape");
    await pick(other);
    await seeWords(page, /it is no file of runs/);
    await page.keyboard.press("Escape");
    await pick(out);
    await seeWords(page, /Bare machine: Haul, reading, 2 runs · measured on/);
    await sound();
    await chooseFrom(page, "rig-of-0", "Straight");
    await press("Import the runs");
    await seeWords(page, /1 measurement imported/);
    await page.waitForFunction(() => location.search.includes("m="));
    await ended();
    const id = await page.evaluate(() => new URLSearchParams(location.search).get("m"));
    const saved = await (await fetch(`${server.url}/api/measurements/${id}/file`)).json();
    const [there, here] = [JSON.parse(text), saved].map(({ measurements: [one] }) => one);
    // Times are kept to a hundredth of a millisecond, all else as it was.
    const rounded = ([from, to, ...counts]: number[]) =>
      [from, to].map((at) => Math.round(at! * 100)).concat(counts);
    for (const [i, run] of there.runs.entries()) {
      expect(here.runs[i].samples.map(rounded)).toEqual(run.samples.map(rounded));
      expect({ ...here.runs[i], samples: [] }).toEqual({ ...run, samples: [] });
    }
    expect(here.conditions).toEqual(there.conditions);
    await pick(out);
    await chooseFrom(page, "rig-of-0", "Straight");
    await press("Import the runs");
    await seeWords(page, /All of this file was imported before/);
    expect(await page.evaluate(() => "broken" in window)).toBe(false);
    // The browser's own words for a file that was refused because it is here already.
    expect(browser.complaints.splice(0).filter((words) => !/status of 409/.test(words))).toEqual(
      [],
    );
  });

  it.skipIf(whyNoProgram())(
    "orders a measurement on another machine, takes the run file in where it is dropped, and judges by it",
    async () => {
      const { page } = browser;
      const claim = { kind: "peak" as const, direction: "read" as const, mbps: 15 };
      const far = await straightStudy(server, "On another machine", "usb-480m", [claim]);
      await goTo(page, `${server.url}/studies/${far}/measure`);
      await press("Measure elsewhere");
      await page.waitForSelector('[role="dialog"]');
      await page.locator('[role="dialog"] button ::-p-text(Linux)').click();
      await seeWords(page, /nerrit-measure --order nerrit-order.json --target "\/media\/DRIVE"/);
      await typeInto(page, "elsewhere-target", disk.directory);
      await typeInto(page, "elsewhere-free", "32 MiB");
      for (const words of ["Haul, writing", "Scatter, reading"])
        await page.locator(`[role="dialog"] label ::-p-text(${words})`).click();
      await seeWords(page, /Makes a scratch file of 32 MiB in that folder and removes the file/);
      await page.locator('[role="dialog"] label ::-p-text(Ferry, writing)').click();
      await seeWords(page, /Makes up 1.?218 files/);
      const folder = path.join(server.data, "to copy");
      fs.mkdirSync(folder);
      for (const name of ["a", "b"]) fs.writeFileSync(path.join(folder, name), "1".repeat(300_000));
      await typeInto(page, "elsewhere-other", folder);
      await seeWords(page, /Copies [^]*to copy to a folder of its own on the drive/);
      await seeWords(page, /--from "[^"]*to copy"/);
      await sound();
      // What the page saves, and the program that it links to.
      await page.evaluate(() => {
        const keep = URL.createObjectURL.bind(URL);
        URL.createObjectURL = (blob) => {
          void (blob as Blob).text().then((text) => (document.body.dataset.kept = text));
          return keep(blob);
        };
      });
      await press("Save the order");
      const kept = await page.waitForFunction(() => document.body.dataset.kept);
      const order = path.join(server.data, "nerrit-order.json");
      const short = (await kept.jsonValue())!.replaceAll('"seconds": 10', '"seconds": 0.6');
      fs.writeFileSync(order, short.replace('"reserve": null', '"reserve": 0'));
      const program = path.join(server.data, "nerrit-measure");
      const saved = await fetch(`${server.url}/api/programs/linux`);
      fs.writeFileSync(program, new Uint8Array(await saved.arrayBuffer()), { mode: 0o755 });
      const out = path.join(server.data, "nerrit-run.jsonl");
      const [command, ...first] = throttle.begin;
      const runner = { ...HERE, command, first: [...first, program] };
      const { status } = await measureElsewhere(runner, [
        "--order",
        order,
        "--target",
        disk.directory,
        "--from",
        folder,
        "--out",
        out,
      ]);
      expect(status).toBe(0);

      // On another page of the study, which takes the file to where runs are imported.
      await goTo(page, `${server.url}/studies/${far}/compare`);
      const drop = (name: string, text: string) =>
        page.evaluate(
          (called, content) => {
            const files = new DataTransfer();
            files.items.add(new File([content], called));
            const options = { dataTransfer: files, bubbles: true, cancelable: true };
            document.body.dispatchEvent(new DragEvent("drop", options));
          },
          name,
          text,
        );
      await drop("other.csv", "time,MB/s\n0,1\n");
      await seeWords(page, /other\.csv is no run file of Nerrit/);
      // Outside any study it waits for one to be opened.
      await page.locator('a[href="/"]').click();
      await page.waitForFunction(() => location.pathname === "/");
      await drop("nerrit-run.jsonl", fs.readFileSync(out, "utf8"));
      await seeWords(page, /nerrit-run\.jsonl waits here/);
      await page.locator(`a[href^="/studies/${far}"]`).click();
      await seeWords(page, /Straight: Haul, reading, 3 runs · measured on/);
      await seeWords(page, /Straight: Ferry, writing, 1 run/);
      // The rig is the one that the order was made for.
      await press("Import the runs");
      await seeWords(page, /2 measurements imported/);
      await page.waitForFunction(() => location.search.includes("m="));
      await ended();
      const [one] = measuredIn(out);
      const rates = one!.runs.map(({ steps }) => steps[0]!.meanMBps).toSorted((a, b) => a - b);
      const shown = await textOf(page);
      expect(shown.replaceAll(/[ \u202f]/g, "")).toContain(String(Math.round(rates[1]!)));
      await sound();
      // The machine is the rig's host now, and the disk's claim is judged by its runs.
      await page.locator("nav a ::-p-text(Judge)").click();
      await seeWords(page, /claims peak 15\.0 MB\/s reading/);
      expect(await textOf(page, '[aria-label="The verdict"]')).toMatch(/Delivers/);
      await sound();
      await page.locator("nav a ::-p-text(Rigs)").click();
      await seeWords(page, new RegExp(os.hostname()));
    },
  );
});
