import fs from "node:fs";
import path from "node:path";
import Database from "better-sqlite3";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import {
  chromium,
  clickOn,
  goTo,
  openBrowser,
  seeWords,
  textOf,
  type OpenBrowser,
} from "../support/browser";
import { LONG } from "../support/long";
import { makeDisk, Throttle, whyNoDevices, whyNoThrottle, type Disk } from "../support/loop-device";
import { RATE, STAND_IN } from "../support/stand-in";
import { startServer, type Server } from "../support/server";

/** Whether the engine measures two throttled disks (`npm run soak`), or a stand-in tells their rates. */
const real = process.env.NERRIT_SOAK === "1";
const why = chromium() ? (real ? whyNoThrottle() : whyNoDevices()) : "needs Chromium";
if (why) console.warn(`skipped: a next swap that is followed (${why})`);

/** What each disk gives, MB/s; the link above both can carry more than either. */
const [SLOW, FAST, LINK] = [40, 122, 130];

describe.skipIf(why)("a next swap, followed on two disks", LONG, () => {
  let server: Server;
  let browser: OpenBrowser;
  let disks: [Disk, Disk];
  let throttle: Throttle | null = null;
  beforeAll(async () => {
    disks = [makeDisk(300), makeDisk(300)];
    if (real) {
      throttle = new Throttle(disks[0]);
      throttle.set(SLOW);
      throttle.set(FAST, disks[1]);
      server = await startServer();
      throttle.hold(server.process.pid!);
    } else {
      for (const [i, rate] of [SLOW, FAST].entries())
        fs.writeFileSync(path.join(disks[i]!.directory, RATE), String(rate));
      server = await startServer(undefined, { NERRIT_ENGINE: STAND_IN });
    }
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    throttle?.remove();
    for (const disk of disks ?? []) disk.remove();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  async function call<T>(method: string, path: string, body?: unknown): Promise<T> {
    const response = await fetch(server.url + path, {
      method,
      headers: { "content-type": "application/json", origin: server.url },
      body: body === undefined ? undefined : JSON.stringify(body),
    });
    if (!response.ok) throw new Error(`${path}: ${await response.text()}`);
    return (await response.json()) as T;
  }
  const part = async (kind: string, name: string, side: string) =>
    (
      await call<{ id: string }>("POST", "/api/parts", {
        kind,
        name,
        connectors: [{ side, modes: [`stated-${LINK}`] }],
      })
    ).id;

  /** Three short repeats on a disk, waited for. */
  async function measure(rigId: string, { directory }: Disk): Promise<void> {
    const { id } = await call<{ id: string }>("POST", `/api/rigs/${rigId}/measurements`, {
      rigId,
      target: directory,
      drill: "haul",
      direction: "read",
      repeats: 3,
      seconds: 2,
      span: 120 * 2 ** 20,
      reserve: 0,
    });
    await expect
      .poll(async () => (await call<{ status: string }>("GET", `/api/measurements/${id}`)).status, {
        interval: 300,
      })
      .toBe("done");
    hostWasIdle();
  }

  /** The other tests of this machine are no part of what is looked at here. */
  function hostWasIdle(): void {
    const client = new Database(path.join(server.data, "nerrit.sqlite"), { timeout: 60_000 });
    client
      .prepare(
        "update measurements set conditions = json_set(conditions, '$.busiestCoreBefore', 0) where conditions is not null",
      )
      .run();
    client.close();
  }

  it("ends with the name of the slow one", async () => {
    const { page } = browser;
    const port = await part("host-port", "Rear port", "down");
    const slow = await part("drive", "First disk", "up");
    await part("drive", "Second disk", "up");
    const { id: study } = await call<{ id: string }>("POST", "/api/studies", {
      title: "Two disks, one of them slow",
    });
    const { id: rig } = await call<{ id: string }>("POST", `/api/studies/${study}/rigs`, {
      name: "as found",
      partIds: [port, slow],
    });
    await measure(rig, disks[0]);

    await goTo(page, `${server.url}/studies/${study}/locate`);
    await seeWords(
      page,
      /as found reads (3\d|4\d)[.\d]* MB\/s\. (Likely|Very likely|What limits it is open)/,
    );
    await seeWords(page, /Next: put Second disk in place of First disk/);
    // Nobody knows yet where the second disk is measured: the rig is made, and its form is open.
    await clickOn(page, "section button", "Make rig and plan");
    await page.waitForFunction(() => window.location.search.includes("rig="));
    const other = new URL(page.url()).searchParams.get("rig")!;
    await measure(other, disks[1]);

    await goTo(page, `${server.url}/studies/${study}/locate?rig=${rig}`);
    await seeWords(page, /as found reads/);
    const words = await textOf(page);
    expect(words).toMatch(/the First disk drive|First disk/);
    expect(await textOf(page, "[data-conclusion]")).toMatch(/First disk/);
    expect(words).toMatch(/Rear port\s*\n?[\s\S]*cleared by rig B/);
    expect(words).toMatch(/What the last run changed/);
  });

  it("makes rig and plan of the next step, waits for hands, and says what it changed", async () => {
    const { page } = browser;
    const port = await part("host-port", "Front port", "down");
    const lead = await part("cable", "Lead 1", "through");
    const disk = await part("drive", "Third disk", "up");
    // The only other lead; what really limits is the disk.
    await part("cable", "Lead 2", "through");
    const { id: study } = await call<{ id: string }>("POST", "/api/studies", {
      title: "One disk, two leads",
    });
    const { id: rig } = await call<{ id: string }>("POST", `/api/studies/${study}/rigs`, {
      name: "slow one",
      partIds: [port, lead, disk],
    });
    await measure(rig, disks[0]);
    await goTo(page, `${server.url}/studies/${study}/locate`);
    await seeWords(page, /Next: put Lead 2 in place of Lead 1/);
    await clickOn(page, "section button", "Make rig and plan");
    await seeWords(page, /hands needed/);
    await seeWords(page, /Unplug cable Lead 1\.\s+Plug in cable Lead 2, same port/);
    await clickOn(page, "button", "It is done, go on");
    // The disk itself never went away: it is asked once more.
    await seeWords(page, /has not gone away since/);
    await clickOn(page, "button", "Measure it all the same");
    await page.waitForSelector('[data-plan="done"]');
    hostWasIdle();
    await goTo(page, `${server.url}/studies/${study}/locate?rig=${rig}`);
    await seeWords(page, /What the last run changed/);
    await seeWords(page, /ruled out: [^.]*Lead 1/);
  });

  it("complained of nothing", () => expect(browser.complaints).toEqual([]));
});
