import fs from "node:fs";
import path from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { axeViolations } from "../support/axe";
import {
  chooseFrom,
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
import { ROOT } from "../support/command";
import { LONG } from "../support/long";
import { straightStudy } from "../support/made";
import { startServer, type Server } from "../support/server";

const why = chromium() ? null : "needs Chromium";

describe.skipIf(why)("rigs, the shelf and the ledger, in the browser", () => {
  let server: Server;
  let browser: OpenBrowser;

  beforeAll(async () => {
    process.env.NERRIT_SYSTEM_ROOT = path.join(ROOT, "demo/systems/usb-480m-slow-hub");
    server = await startServer();
    delete process.env.NERRIT_SYSTEM_ROOT;
    browser = await openBrowser();
  });
  afterAll(async () => {
    await browser?.close();
    await server?.end();
    fs.rmSync(server.data, { recursive: true, force: true });
  });

  const press = (words: string, kind = "button") =>
    browser.page.locator(`${kind} ::-p-text(${words})`).click();
  const closed = () =>
    browser.page.waitForFunction(() => !document.querySelector('[role="dialog"]'));
  const submit = async () =>
    (await browser.page.waitForSelector('[role=dialog] button[type="submit"]'))!.click();
  const post = (url: string, body: unknown) =>
    fetch(server.url + url, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(body),
    });
  const openRigs = async () => {
    await goTo(browser.page, `${server.url}/studies/demo-first/rigs`);
    await seeWords(browser.page, /What differs between/);
  };

  it("exchanges one part of a rig by search and keys, and counts the change", async () => {
    const { page } = browser;
    await openRigs();
    await press("Duplicate with a change");
    await (await page.waitForSelector("button ::-p-text(Another cable in place of K5)"))!.click();
    await takeFound(page, "k2", "K2");
    await seeWords(page, /Predicted bottleneck reading: cable K2/);
    await typeInto(page, "rig-name", "Third");
    await submit();
    // B is that rig already: it is named, and nothing that was typed is lost.
    await seeWords(page, /This is rig “[^”]+” already[\s\S]*Measure that rig/);
    await typeInto(page, "fileSystem", "exfat");
    await submit();
    await closed();
    await seeWords(page, /A–C 2/);
    await chooseFrom(page, "second-rig", "C ·");
    await seeWords(page, /2 changes: cable K5 against K2/);
  });

  it("inserts a hub between two parts, where it fits and nowhere else", async () => {
    const { page } = browser;
    const sides = ["up", "down"].map((side) => ({ side, modes: ["usb-480m", "usb-5g"] }));
    await post("/api/parts", { kind: "hub", name: "Little hub", connectors: sides });
    await press("Duplicate with a change");
    await (await page.waitForSelector('button[data-name="before-Moraine 1T"]'))!.click();
    await seeWords(page, /Little hub[\s\S]*no mode in common/);
    await page.keyboard.press("Escape");
    await pickFrom(page, "before-Serac", "Little hub");
    await seeWords(page, /Predicted bottleneck reading: Little hub/);
    await page.keyboard.press("Escape");
    await closed();
  });

  it("declares a slower link, holds some of it, and says so on the rig", async () => {
    const { page } = browser;
    const edits = await page.$$("button ::-p-text(Edit)");
    await edits.at(0)!.click();
    await chooseFrom(page, "mode-Serac", "USB 5 Gb/s, declared");
    await seeWords(page, /Predicted bottleneck reading: [^.]*482 MB\/s/);
    await press("Bandwidth used by other devices on a link");
    await press("Add a device");
    const rate = await page.waitForSelector("::-p-xpath(//label[starts-with(., 'reading')]/input)");
    await rate!.click({ count: 3 });
    await rate!.type("82");
    await seeWords(page, /Predicted bottleneck reading: [^.]*400 MB\/s/);
    await submit();
    await closed();
    await seeWords(page, /declared; its parts could run 10 Gb\/s/);
    await seeWords(
      page,
      /Used by other devices: busy neighbour \(82\.0 \/ 0 MB\/s read \/ write\)/,
    );
  });

  it("holds a rig against what the system says, and takes that over", async () => {
    const { page } = browser;
    await press("Compare with the system");
    await typeInto(page, "system-path", "/nowhere");
    await page.keyboard.press("Enter");
    await seeWords(page, /lies on no file system that is mounted/);
    await typeInto(page, "system-path", "/media/moraine");
    await page.keyboard.press("Enter");
    await seeWords(page, /declared 5 Gb\/s, the system says 480 Mb\/s: the link to Serac/);
    await seeWords(page, /sees Rime 7 \(480 Mb\/s\), which the rig does not name/);
    await press("Use links");
    await seeWords(page, /Change a rig/);
    await submit();
    await closed();
    await seeWords(page, /the system says so; its parts could run 10 Gb\/s/);
  });

  it("makes a rig of what the system sees, with the items it knows by their serials", async () => {
    const { page } = browser;
    await press("Build from a connected drive");
    await typeInto(page, "system-path", "/media/moraine");
    await page.keyboard.press("Enter");
    await seeWords(page, /Serac, known by its serial number/);
    await seeWords(page, /Moraine 1T, known by its serial number/);
    await press("Make the rig");
    await page.waitForFunction(() => location.search.includes("target=%2Fmedia%2Fmoraine"));
    await press("Rigs", "a");
    await seeWords(page, /USB socket 1-3 → Rime 7 → Serac → Moraine 1T/);
    await seeWords(page, /Plugged in now: 1 drive/);
    await press("Plugged in now");
    await seeWords(page, /this may be A|this may be B|this is /);
  });

  it("says whether a difference matters, from streams and copies", LONG, async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/studies/demo-first`);
    await press("Add a demand");
    await chooseFrom(page, "demand-preset", "Edit four streams, 4K at 30");
    await seeWords(page, /Asks for 50\.0 MB\/s reading, sustained/);
    await submit();
    await closed();
    await seeWords(page, /Edit four streams[\s\S]*✓ met/);
    await press("Add a demand");
    await typeInto(page, "demand-name", "Two cameras");
    await submit();
    await seeWords(page, /add a stream or a copy/);
    await press("Add a stream");
    await seeWords(page, /Asks for 746 MB\/s writing, sustained/);
    await submit();
    await closed();
    await seeWords(page, /Two cameras[\s\S]*✓ met|✕ missed/);
    expect(await textOf(page, "#demands")).toMatch(/✕ missed|✕ cannot meet/);
  });

  it("calls out on entry what a part's own link cannot carry, whatever kind of claim", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/shelf?kind=enclosure&gear=all`);
    await seeWords(page, /Serac/);
    await page.keyboard.press("n");
    await (await page.waitForSelector('button[data-name="gear"]'))!.click();
    await takeFound(page, "Boaster 2.5 sata usb 5g, 40 Gb/s", "Drive enclosure");
    await seeWords(page, /understood: a 40 Gb\/s link/);
    await seeWords(page, /link class of 40 Gb\/s is more than its fastest mode signals/);
    await press("Add it to the shelf");
    await closed();
    await seeWords(page, /more than its link/);
    await page.keyboard.press("/");
    await page.keyboard.type("boast");
    await page.waitForFunction(() => !document.body.innerText.includes("Serac"));
    await seeWords(page, /Boaster/);
  });

  it("shows names with markup as they are", async () => {
    const { page } = browser;
    const name = '<img src=x onerror="window.broken=1">';
    const connectors = [{ side: "through", modes: ["usb-5g"] }];
    expect((await post("/api/parts", { kind: "cable", name, connectors })).status).toBe(201);
    await goTo(page, `${server.url}/shelf?kind=cable`);
    await seeWords(page, /<img src=x/);
    expect(await page.evaluate(() => "broken" in window)).toBe(false);
  });

  it("takes a mode of the tester's own into ledger, chart and shelf", LONG, async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/ledger`);
    await press("Describe a mode of your own");
    await typeInto(page, "name", "Fjord link");
    await typeInto(page, "rate", "8");
    await seeWords(page, /Hard ceiling 776 MB\/s/);
    await submit();
    await closed();
    await seeWords(page, /Nothing honest exceeds 776 MB\/s/);
    await typeInto(page, "held", "100");
    await seeWords(page, /Nothing honest exceeds 676 MB\/s/);
    await page.locator("ul button ::-p-text(Fjord link)").wait();
    await goTo(page, `${server.url}/shelf`);
    await page.keyboard.press("n");
    await press("What exactly it supports");
    await press("Thunderbolt, cards, SAS");
    await page.waitForSelector('[data-mode^="own:name=Fjord"]');
    await page.keyboard.press("Escape");
    await goTo(page, `${server.url}/ledger`);
    await pickFrom(page, "mode", "Fjord link");
    await press("Remove this mode");
    await seeWords(page, /Nothing honest exceeds 776 MB\/s/);
  });

  it("follows an assumption where it is changed", async () => {
    const { page } = browser;
    await goTo(page, `${server.url}/ledger?mode=ethernet-10g`);
    await seeWords(page, /Nothing honest exceeds 1 177 MB\/s/);
    await chooseFrom(page, "mtu", "9000");
    await seeWords(page, /Nothing honest exceeds 1 238 MB\/s/);
    expect(browser.complaints).toEqual([]);
  });

  it("holds a rig against the text of another machine’s own command", LONG, async () => {
    const { page } = browser;
    const study = await straightStudy(server, "On another machine", "usb-480m");
    await goTo(page, `${server.url}/studies/${study}/rigs`);
    await press("Compare with the system");
    await press("Pasted from another machine");
    await press("Linux");
    await page.waitForSelector('[name="system-text"]');
    const text = [
      "/:  Bus 02.Port 1: Dev 1, Class=root_hub, Driver=xhci_hcd/4p, 10000M",
      "    |__ Port 2: Dev 2, If 0, Class=Mass Storage, Driver=uas, 10000M",
      "    |__ Port 3: Dev 3, If 0, Class=Mass Storage, Driver=usb-storage, 5000M",
    ];
    await typeInto(page, "system-text", "nothing of the kind");
    await seeWords(page, /This text is none that Nerrit knows/);
    await typeInto(page, "system-text", text.join("\n"));
    await seeWords(page, /declared 480 Mb\/s, the system says 10 Gb\/s/);
    expect(await axeViolations(page)).toEqual([]);
    await chooseFrom(page, "system-drive", "USB device on 2-3");
    await seeWords(page, /declared 480 Mb\/s, the system says 5 Gb\/s/);
    await press("Use links, driver and file system");
    await seeWords(page, /Change a rig/);
    expect(browser.complaints).toEqual([]);
  });
});
