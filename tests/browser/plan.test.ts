import { execFileSync } from "node:child_process";
import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chromium,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  typeInto,
  type OpenBrowser,
} from "../support/browser";
import { until } from "../support/command";
import { LONG } from "../support/long";
import { makeLoop, Throttle, whyNoThrottle, type LoopDevice } from "../support/loop-device";
import { make } from "../support/made";
import { startServer, type Server } from "../support/server";

const why = chromium() ? whyNoThrottle() : "needs Chromium";
if (why) console.warn(`skipped: plans on the page (${why})`);

const MIB = 2 ** 20;

describe.skipIf(why)("a plan for two disks on one socket, of which one is held to 40 MB/s", () => {
  let server: Server;
  let browser: OpenBrowser;
  let throttle: Throttle;
  let study: string;
  let place: string;
  /** Disks by name: each is in a drawer, or plugged in at the place that all share. */
  const disks: Record<string, LoopDevice> = {};
  const sizes = { slow: 100, fast: 160, other: 60 };
  let plugged: string | null = null;

  const run = (command: string, ...args: string[]) =>
    execFileSync(command, args, { stdio: ["ignore", "ignore", "pipe"] });
  const takeOut = () => {
    if (plugged) run("umount", "--lazy", place);
    plugged = null;
  };
  const putIn = (name: keyof typeof sizes) => {
    takeOut();
    run("mount", disks[name]!.device, place);
    plugged = name;
  };

  beforeAll(async () => {
    place = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-place-"));
    const eager = "lazy_itable_init=0,lazy_journal_init=0";
    for (const [name, mebibytes] of Object.entries(sizes)) {
      disks[name] = makeLoop(mebibytes);
      run("mkfs.ext4", "-q", "-F", "-m", "0", "-E", eager, disks[name]!.device);
    }
    putIn("slow");
    server = await startServer();
    throttle = new Throttle(disks.slow!);
    throttle.set(40);
    throttle.hold(server.process.pid!);
    browser = await openBrowser();
    const part = (kind: string, name: string, side: string, more: object = {}) =>
      post("/api/parts", { kind, name, connectors: [{ side, modes: ["usb-480m"] }], ...more });
    study = await post("/api/studies", { title: "Two disks" });
    const socket = await part("host-port", "Socket", "down");
    for (const name of ["slow", "fast"] as const) {
      const size = { capacityBytes: sizes[name] * MIB };
      const partIds = [socket, await part("drive", `${name} disk`, "up", size)];
      rigs[name] = await post(`/api/studies/${study}/rigs`, { name, partIds });
    }
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    takeOut();
    throttle.remove();
    for (const disk of Object.values(disks)) disk.remove();
    fs.rmdirSync(place);
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const rigs: Record<string, string> = {};
  const post = (route: string, body: object) => make(server, route, body);
  const begin = (more: object = {}) =>
    post(`/api/studies/${study}/plans`, {
      rigs: ["slow", "fast"].map((name) => ({ rigId: rigs[name], target: place })),
      drills: [{ name: "haul", direction: "read", seconds: 0.6, span: 8 * MIB }],
      repeats: 2,
      reserve: 0,
      besideOwnData: true,
      ...more,
    });
  const measurePage = () => goTo(browser.page, `${server.url}/studies/${study}/measure`);
  const standsAt = (kind: string) => browser.page.waitForSelector(`[data-plan="${kind}"]`);
  const press = (words: string) => browser.page.locator(`button ::-p-text(${words})`).click();
  const sound = async () => {
    expect(await axeViolations(browser.page)).toEqual([]);
    expect(browser.complaints).toEqual([]);
  };

  it("measures what is plugged in, waits for hands, knows a wrong disk, and goes on with the right one", async () => {
    await begin();
    await measurePage();
    await standsAt("hands");
    await seeWords(browser.page, /Unplug drive slow disk\.\s+Plug in drive fast disk, same port/);
    await sound();
    takeOut();
    putIn("other");
    await seeWords(browser.page, /not rig B[\s\S]*holds 168 MB, the system sees one of 62\.9 MB/);
    await sound();
    putIn("fast");
    await standsAt("done");
    await seeWords(browser.page, /4 of 4 runs/);
    await sound();
    await goTo(browser.page, `${server.url}/studies/${study}`);
    expect(await textOf(browser.page)).toMatch(/slow[\s\S]*fast/);
  });

  it("takes the space bar for a word that all is in place", async () => {
    putIn("fast");
    await begin({ repeats: 1, rigs: [{ rigId: rigs.fast, target: "/mnt/nowhere" }] });
    await measurePage();
    await standsAt("hands");
    await browser.page.keyboard.press("Space");
    // Nothing is there after all: it says so, and waits.
    await seeWords(browser.page, /There is no \/mnt\/nowhere/);
    await press("End the plan");
    await standsAt("aborted");
  });

  it("is made in the form, where nothing that makes no sense is lost", async () => {
    const { page } = browser;
    putIn("slow");
    await measurePage();
    // The plan before stands above the form: until it is there, everything below it moves.
    await standsAt("aborted");
    await press("Plan several runs");
    await page.waitForSelector('[name="plan-target-B"]');
    expect(await page.$eval('[name="plan-target-A"]', (i) => (i as HTMLInputElement).value)).toBe(
      place,
    );
    await seeWords(page, /36 runs, about .* min, hands apart/);
    await typeInto(page, "plan-title", "By form");
    await typeInto(page, "plan-repeats", "many");
    await press("Begin the plan");
    await seeWords(page, /repeats.*must be a number/);
    expect(await page.$eval('[name="plan-title"]', (i) => (i as HTMLInputElement).value)).toBe(
      "By form",
    );
    await sound();
  });

  it("goes on after a pause and after a restart of the server", LONG, async () => {
    const { page } = browser;
    putIn("slow");
    const id = await begin({
      repeats: 3,
      rigs: [{ rigId: rigs.slow, target: place }],
      drills: [{ name: "haul", direction: "read", seconds: 3, span: 8 * MIB }],
    });
    await measurePage();
    await standsAt("running");
    await press("Pause");
    await standsAt("paused");
    await press("Go on");
    await standsAt("running");
    await server.end();
    throttle.free(process.pid);
    server = await startServer(server.data);
    throttle.hold(server.process.pid!);
    const state = async () => {
      const answer = await fetch(`${server.url}/api/plans/${id}`);
      return ((await answer.json()) as { state: { kind: string } }).state.kind;
    };
    expect(await state()).toBe("paused");
    browser.complaints.length = 0; // the server was away
    await measurePage();
    await seeWords(page, /server ended meanwhile/);
    await press("Go on");
    await until("the plan is done", async () => (await state()) === "done");
    await standsAt("done");
    // The table has the median of the three; every run stands below it, unfolded as the plan waited.
    const cell = () => page.$eval("[data-plan-table] tbody td", (td) => td.innerText);
    await expect.poll(cell).toMatch(/\d[\s\S]*spread/);
    expect(await page.$$eval('[data-step="done"]', (rows) => rows.length)).toBe(3);
    await sound();
  });
});
