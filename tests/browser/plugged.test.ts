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
  takeFound,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { makeDisk, makeLoop, whyNoDevices, type Disk } from "../support/loop-device";
import { startServer, type Server } from "../support/server";
import { LONG } from "../support/long";

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
  const drive = () => `[data-drive="${path.basename(disk.device)}"]`;
  const sound = async () => {
    expect(await axeViolations(browser.page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
  };

  it("gives a first figure in at most five actions, from the first page", async () => {
    const { page } = browser;
    await goTo(page, server.url);
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
    await page.waitForSelector('[data-status="running"]');
    await seeWords(page, /\d MB\/s/);
    expect(actions).toBeLessThanOrEqual(5);
    // What happens meanwhile is noted by a key, at its moment, and counts as a temperature.
    await page.keyboard.press("n");
    await page.waitForSelector('[name="note"]:focus');
    await page.keyboard.type("case 48 °C");
    await page.keyboard.press("Enter");
    await seeWords(page, /: case 48 °C[\s\S]*noted by the tester: 48 °C at most/);
    await page.locator("button ::-p-text(Stop)").click();
    await page.waitForSelector('[data-status="stopped"]');
  });

  it("follows plugging in and taking out", LONG, async () => {
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

  it("says before a run what would stop it, and puts it right by a button", LONG, async () => {
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

  it(
    "lets a rig be put together from everyday gear, and a part be entered on the way",
    LONG,
    async () => {
      const { page } = browser;
      await goTo(page, `${server.url}/studies/${study}/rigs`);
      await page.locator("button ::-p-text(Add rigs)").click();
      const put = async (place: string, sought: string, words: string) => {
        // The list of the place before has to be gone: what is pressed while it goes is lost.
        await page.waitForFunction(() => !document.querySelector("[cmdk-input]"));
        await (await page.waitForSelector(`button[data-name="place-${place}"]`))!.click();
        await takeFound(page, sought, words);
      };
      await put("host-port", "usb-a 10g", "a new USB-A port");
      await put("cable", "K7 usb-a 5g", "called K7");
      await (await page.waitForSelector('button[data-name="place-enclosure"]'))!.click();
      await page.locator("[cmdk-item] ::-p-text(Enter a new part)").click();
      await seeWords(page, /A part for the shelf/);
      await typeInto(page, "name", "Odd box");
      await page.locator("button ::-p-text(Add it to the shelf)").click();
      await seeWords(page, /Some fields need another look/);
      await page.keyboard.press("Escape");
      await put("drive", "portable ssd 10g", "a new Portable SSD");
      await page.locator("button ::-p-text(Add the rig)").click();
      await page.waitForFunction(() => !document.querySelector("[role=dialog]"));
      await seeWords(page, /USB-A port, 10 Gb\/s → K7 → Portable SSD/);
      expect(await textOf(page)).toMatch(/5 Gb\/s/);
      await sound();
    },
  );
});
