import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chromium,
  goTo,
  openBrowser,
  pickFrom,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { makeDisk, makeLoop, whyNoDevices, type Disk } from "../support/loop-device";
import { startServer, type Server } from "../support/server";

const why = chromium() ? whyNoDevices() : "needs Chromium";
if (why) console.warn(`skipped: what is plugged in, on the page (${why})`);

describe.skipIf(why)("what is plugged in, from an empty shelf", () => {
  let server: Server;
  let browser: OpenBrowser;
  let disk: Disk;
  let study: string;

  beforeAll(async () => {
    // Room beside the reserve of 1 GiB.
    disk = makeDisk(1300);
    server = await startServer();
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  /** What a tester does to get there: presses and fields typed into. */
  let actions = 0;
  const press = (words: string, kind = "button") => {
    actions += 1;
    return browser.page.locator(`${kind} ::-p-text(${words})`).click();
  };
  const type = (name: string, text: string) => {
    actions += 1;
    return typeInto(browser.page, name, text);
  };
  const drive = () => `[data-drive="${path.basename(disk.device)}"]`;
  const sound = async () => {
    expect(await axeViolations(browser.page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
  };

  it("gives a first answer in at most eight actions", async () => {
    const { page } = browser;
    await goTo(page, server.url);
    await type("title", "How fast is it");
    await press("Start the study");
    await page.waitForSelector(drive());
    await sound();
    actions += 1;
    await (await page.waitForSelector(`${drive()} button`))!.click();
    await seeWords(page, /does not say how it is linked/);
    await sound();
    actions += 1;
    await pickFrom(page, "mode", "USB 5 Gb/s");
    await press("Make the rig");
    await page.waitForFunction(() => location.pathname.endsWith("/measure"));
    study = page.url().split("/")[4]!;
    await page.waitForFunction(
      (place) => (document.querySelector('[name="target"]') as HTMLInputElement)?.value === place,
      {},
      disk.directory,
    );
    actions += 1;
    await page.locator('button[type="submit"]').click();
    await page.waitForSelector("[data-status]");
    expect(actions).toBeLessThanOrEqual(8);
    await page.locator("button ::-p-text(Stop)").click();
    await page.waitForSelector('[data-status="stopped"]');
  });

  it("follows plugging in and taking out", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/${study}/rigs`);
    await page.locator("button ::-p-text(Plugged in now)").click();
    await page.waitForSelector(drive());
    const another = makeLoop(16);
    const place = `[data-drive="${path.basename(another.device)}"]`;
    await page.waitForSelector(place);
    another.remove();
    await page.waitForSelector(place, { hidden: true });
    await sound();
  });

  it("offers it wherever a place to measure is asked for", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/${study}/measure`);
    await typeInto(page, "target", "/elsewhere");
    await pickFrom(page, "plugged-target", disk.directory);
    expect(await page.$eval('[name="target"]', (i) => (i as HTMLInputElement).value)).toBe(
      disk.directory,
    );
  });

  it("says before a run what would stop it, and puts it right by a button", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/${study}/measure`);
    await typeInto(page, "target", disk.directory);
    await page.locator("button ::-p-text(in flight,)").click();
    await typeInto(page, "span", "100GiB");
    await seeWords(page, /Cannot start: A span of 100 GiB does not fit/);
    await sound();
    await page.locator("button ::-p-text(Use a span of)").click();
    await page.waitForFunction(() => !/does not fit/.test(document.body.innerText));
    expect(await page.$eval('[name="span"]', (i) => (i as HTMLInputElement).value)).toMatch(/MiB$/);
    await typeInto(page, "target", "/dev/shm");
    await seeWords(page, /is memory: direct I\/O reaches no drive/);
    await page.locator("button ::-p-text(Measure buffered; flag the run)").click();
    await page.waitForFunction(() => !/is memory: direct/.test(document.body.innerText));
  });

  it("lets a rig be put together from everyday gear, and a part be entered on the way", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/${study}/rigs`);
    await page.locator("button ::-p-text(Add a rig)").click();
    await pickFrom(page, "next-part", "a new USB 10 Gb/s port");
    await pickFrom(page, "next-part", "a new USB 10 Gb/s cable");
    await pickFrom(page, "next-part", "Enter a new part");
    await seeWords(page, /A part for the shelf/);
    await typeInto(page, "name", "K7");
    await page.locator("button ::-p-text(Add it to the shelf)").click();
    // A cable cannot follow a cable: it is kept on the shelf, and the rig as it was.
    await seeWords(page, /Some fields need another look|cannot stand here/);
    await page.keyboard.press("Escape");
    await pickFrom(page, "next-part", "a new USB stick, 5 Gb/s");
    await page.locator("button ::-p-text(Add the rig)").click();
    await page.waitForFunction(() => !document.querySelector("[role=dialog]"));
    await seeWords(page, /USB 10 Gb\/s port → USB 10 Gb\/s cable → USB stick/);
    expect(await textOf(page)).toMatch(/5 Gb\/s/);
    await sound();
  });
});
