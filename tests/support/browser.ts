import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import puppeteer, { type Browser, type Locator, type Page } from "puppeteer-core";
import { preload } from "./preload";
import { PATIENCE_MS } from "./patience";

/** The one without windows first: what is drawn is the same, for a fifth less of the processor. */
const NAMES = [
  "/usr/bin/chromium-headless-shell",
  "/usr/bin/chromium",
  "/usr/bin/chromium-browser",
  "/usr/bin/google-chrome",
];

/** Where a Chromium lies: CHROMIUM, or one of the usual places; null where there is none. */
export const chromium = (): string | null =>
  [process.env.CHROMIUM ?? "", ...NAMES].find((file) => file && fs.existsSync(file)) ?? null;

export interface OpenBrowser {
  page: Page;
  /** What the pages complained about. */
  complaints: string[];
  close(): Promise<void>;
}

/** What keeps a browser from breaking off what it loads whenever a test beside it makes a network (no-netlink.c). */
function deafToNetworks(): Record<string, string> {
  try {
    return { LD_PRELOAD: preload("no-netlink.c") };
  } catch {
    return {}; // no compiler here
  }
}

/** A fresh, headless Chromium with one page of the size that screens are drawn for. */
export async function openBrowser(): Promise<OpenBrowser> {
  const profile = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-browser-"));
  const browser: Browser = await puppeteer.launch({
    executablePath: chromium()!,
    userDataDir: profile,
    env: { ...process.env, ...deafToNetworks() },
    args: [
      "--headless",
      "--no-sandbox",
      "--disable-gpu",
      "--disable-quic",
      "--no-first-run",
      "--disable-background-networking",
      "--disable-component-update",
      "--disable-sync",
    ],
  });
  const page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  // A machine that does much else at once may take its time; tests are of what is shown, not of when.
  page.setDefaultTimeout(PATIENCE_MS);
  lookSeldom(page);
  pressEnabled(page);
  await holdRequestsUp(page);
  const complaints: string[] = [];
  page.on("pageerror", (error) => complaints.push(String(error)));
  page.on("console", (message) => {
    // A refused request (422) is told to the user, and by the browser to its console.
    const refused = /status of 422/.test(message.text());
    const where = message.location().url ?? "";
    // What was taken back while the page still followed it is gone.
    const gone = /status of 404/.test(message.text()) && /measurements\/[^/]+\/events$/.test(where);
    if (message.type() === "error" && !refused && !gone)
      complaints.push(`${message.text()} ${where}`);
  });
  return {
    page,
    complaints,
    async close() {
      await browser.close();
      fs.rmSync(profile, { recursive: true, force: true });
    },
  };
}

/** How often is looked whether a page shows what is waited for. */
const LOOK_MS = 100;

/**
 * Looks ten times a second for what is waited for. Left to itself the browser looks at every frame that it
 * draws, and the words of a long page at every frame take a core of their own.
 */
function lookSeldom(page: Page): void {
  const wait = page.waitForFunction.bind(page);
  page.waitForFunction = ((seen, options, ...args) =>
    wait(seen, { polling: LOOK_MS, ...options }, ...args)) as Page["waitForFunction"];
}

/**
 * Presses a control once it can be pressed, as a user does. One that cannot keeps its focus here and is marked for
 * that (aria-disabled), which the browser's driver does not look at.
 */
function pressEnabled(page: Page): void {
  const locate = page.locator.bind(page) as (selector: string) => Locator<Element>;
  page.locator = ((selector: string) =>
    locate(selector).filter(
      (found) => found.closest('[aria-disabled="true"]') === null,
    )) as Page["locator"];
}

/**
 * With NERRIT_SLOW_MS set, every request that a page makes by itself leaves that much later. A test
 * that goes on before what it pressed has taken effect fails then, on any machine.
 */
async function holdRequestsUp(page: Page): Promise<void> {
  const heldMs = Number(process.env.NERRIT_SLOW_MS ?? 0);
  if (!(heldMs > 0)) return;
  await page.evaluateOnNewDocument((ms) => {
    const send = window.fetch.bind(window);
    window.fetch = async (...order) => {
      await new Promise((go) => setTimeout(go, ms));
      return send(...order);
    };
  }, heldMs);
}

/** Opens a page and waits until it answers to clicks and keys. */
export async function goTo(page: Page, url: string): Promise<void> {
  await page.goto(url);
  await page.waitForFunction(() => {
    const main = document.querySelector("main");
    return main !== null && Object.keys(main).some((key) => key.startsWith("__react"));
  });
}

/** Clicks what a user would find by its words. @param kind a CSS selector such as "button" */
export async function clickOn(page: Page, kind: string, words: string): Promise<void> {
  await page.locator(`${kind} ::-p-text(${words})`).click();
}

/** Types into a field found by its name, replacing what is there. */
export async function typeInto(page: Page, name: string, text: string): Promise<void> {
  const field = await page.waitForSelector(`[name="${name}"]`);
  await field!.click({ count: 3 });
  await field!.press("Backspace");
  await field!.type(text);
}

/** All text a user sees, with narrow spaces as plain ones. */
export async function textOf(page: Page, selector = "main"): Promise<string> {
  const text = await page.$eval(selector, (element) => (element as HTMLElement).innerText);
  return text.replaceAll(/[\u202f\u00a0]/g, " ");
}

/** Waits until a page shows some words. */
export async function seeWords(page: Page, words: RegExp, patienceMs = PATIENCE_MS): Promise<void> {
  await page.waitForFunction(
    (source, flags) =>
      new RegExp(source, flags).test(document.body.innerText.replaceAll(/[\u202f\u00a0]/g, " ")),
    { timeout: patienceMs },
    words.source,
    words.flags,
  );
}

/** Takes one of a short list of choices, found by its name or, in quotes, by its label. */
export async function chooseFrom(page: Page, name: string, words: string): Promise<void> {
  const trigger = `button[role="combobox"]:is([data-name="${name}"], [aria-label="${name}"])`;
  await (await page.waitForSelector(trigger))!.click();
  await page.waitForSelector('[role="listbox"]');
  const option = await page.waitForSelector(`[role="option"] ::-p-text(${words})`);
  await option!.click();
  await page.waitForFunction(() => !document.querySelector('[role="listbox"]'));
}

/** Opens a list to choose from, types what is sought and takes what answers to it. */
export async function pickFrom(page: Page, name: string, words: string): Promise<void> {
  await (await page.waitForSelector(`button[data-name="${name}"]`))!.click();
  await takeFound(page, words, words);
}

/** In an open list: types what is sought, and takes it once the list has found it. */
export async function takeFound(page: Page, sought: string, words: string): Promise<void> {
  await page.waitForSelector("[cmdk-input]:focus");
  await page.keyboard.type(sought);
  const quoted = words.replace(/[.*+?^${}()|[\]\\]/g, "\\$&");
  await page.waitForFunction(
    (sought) => {
      const chosen = document.querySelector(
        '[cmdk-list]:not([aria-busy="true"]) [cmdk-item][data-selected="true"]',
      );
      return chosen !== null && new RegExp(sought).test(chosen.textContent ?? "");
    },
    { timeout: PATIENCE_MS },
    quoted,
  );
  await page.keyboard.press("Enter");
  await page.waitForFunction(() => !document.querySelector("[cmdk-input]"));
}
