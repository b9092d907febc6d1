import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  pickFrom,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { makeDisk, whyNoDevices, type Disk } from "../support/loop-device";
import { startServer, type Server } from "../support/server";
import { makeHosts, whyNoHosts, type SshHost, type SshHosts } from "../support/ssh-hosts";
import { LONG } from "../support/long";

const why = chromium() ? ((await whyNoHosts()) ?? whyNoDevices()) : "needs Chromium";
if (why) console.warn(`skipped: hosts, on their page (${why})`);

describe.skipIf(why)("hosts, on their page", () => {
  let made: SshHosts;
  let disk: Disk;
  let server: Server;
  let browser: OpenBrowser;
  let lab: SshHost;
  /** The page of the run. */
  let measured = "";

  beforeAll(async () => {
    // Room beside the reserve of 1 GiB.
    disk = makeDisk(1300);
    made = await makeHosts([
      { name: "lab2" },
      { name: "locked", env: { XDG_CACHE_HOME: "/proc/nowhere" } },
    ]);
    [lab] = made.hosts as [SshHost];
    server = await startServer(undefined, { NERRIT_SSH_CONFIG: made.config });
    browser = await openBrowser();
  });
  afterAll(async () => {
    lab?.mend();
    await browser?.close();
    await server?.end();
    await made.remove();
    disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const sound = async () => {
    expect(await axeViolations(browser.page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
  };
  const card = (name: string) => `[data-host="${name}"]`;

  it("are added by name or from the SSH configuration; what is missing is said", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/hosts`);
    await typeInto(page, "host", "-oProxyCommand=reboot");
    await page.keyboard.press("Enter");
    await page.waitForSelector('[name="host"][aria-invalid="true"]');
    // What was typed is still there.
    expect(await page.$eval('[name="host"]', (field) => (field as HTMLInputElement).value)).toBe(
      "-oProxyCommand=reboot",
    );
    await typeInto(page, "host", "lab2");
    await page.keyboard.press("Enter");
    await page.waitForSelector(card("lab2"));
    await clickOn(page, "button", "Add locked");
    await page.waitForSelector(card("locked"));
    expect(await textOf(page, card("lab2"))).toMatch(/Ready to measure/);
    expect(await textOf(page, card("locked"))).toMatch(/cache folder/);
    await page.waitForSelector(`${card("lab2")} [data-drive]`);
    await sound();
  });

  it("measure a drive of theirs: cut off and back, with every sample", async () => {
    const { page } = browser;
    const drive = `[data-drive="lab2:${path.basename(disk.device)}"]`;
    await page.locator(`${drive} button`).click();
    await seeWords(page, /does not say how it is linked/);
    await pickFrom(page, "mode", "USB 5 Gb/s");
    await clickOn(page, "button", "Make the rig");
    await page.waitForFunction(() => location.pathname.endsWith("/measure"));
    await page.waitForFunction(
      (place) => (document.querySelector('[name="target"]') as HTMLInputElement)?.value === place,
      {},
      `lab2:${disk.directory}`,
    );
    await page.locator('button[type="submit"]').click();
    await page.waitForSelector('[data-status="running"]');
    await seeWords(page, /\d MB\/s/);
    lab.cut();
    await page.waitForSelector("[data-out-of-touch]");
    await sound();
    // Whoever comes to the page meanwhile is told the same.
    await page.reload();
    await page.waitForSelector("[data-out-of-touch]");
    lab.mend();
    await page.waitForFunction(() => !document.querySelector("[data-out-of-touch]"));
    await page.waitForSelector('[data-status="done"]');
    measured = page.url();
    const id = new URL(measured).searchParams.get("m");
    const response = await fetch(`${server.url}/api/measurements/${id}`);
    const { runs, rig } = (await response.json()) as {
      runs: { samples: { bytes: number }[]; result: { bytes: number } }[];
      rig: { host: string };
    };
    expect(rig.host).toBe("lab2");
    for (const { samples, result } of runs)
      expect(samples.reduce((sum, { bytes }) => sum + bytes, 0)).toBe(result.bytes);
    await sound();
  });

  it(
    "are watched with a shell alone: what they move, and how busy their cores are",
    LONG,
    async () => {
      const { page } = browser;
      await goTo(page, `${server.url}/watch`);
      await pickFrom(page, "watch", "locked:eth0");
      await page.waitForSelector('[data-watched="locked:eth0"]');
      await page.waitForFunction(() =>
        /core \d+ (is|had)/.test(document.querySelector("[data-host-load]")?.textContent ?? ""),
      );
      await sound();
      await goTo(page, `${server.url}/watch?name=locked:eth9`);
      await seeWords(page, /counts nothing for eth9/);
      await goTo(page, `${server.url}/watch?name=nowhere:eth0`);
      await seeWords(page, /nowhere is not one of the hosts/);
    },
  );

  it(
    "are told apart from this machine where their drives are picked, and can be removed",
    LONG,
    async () => {
      const { page } = browser;
      await goTo(page, measured);
      await page.locator('button[data-name="plugged-target"]').click();
      // Whose line was cut as the page came is asked again.
      await page.waitForFunction(
        (place) => document.querySelector("[cmdk-list]")?.textContent?.includes(place),
        {},
        `lab2:${disk.directory}`,
      );
      await page.keyboard.press("Escape");
      await goTo(page, `${server.url}/hosts`);
      await page.locator(`${card("lab2")} button ::-p-text(Remove)`).click();
      await page.waitForFunction((its) => !document.querySelector(its), {}, card("lab2"));
      await clickOn(page, "button", "Undo");
      await page.waitForSelector(card("lab2"));
      await sound();
    },
  );
});
