import fs from "node:fs";
import os from "node:os";
import path from "node:path";
import type { Page } from "puppeteer-core";
import { expect } from "vitest";
import { clickOn } from "./browser";

/** What a page hands to the browser to keep. */
export interface Saved {
  /** Saves through the menu of a picture or table; gives the file once it is there. */
  save(title: string, kind: string): Promise<Buffer>;
  /** Saves by whatever is pressed; gives the file once it is there. */
  saveBy(press: () => Promise<unknown>): Promise<Buffer>;
  end(): void;
}

/** Lets a page save files, into a folder of its own. */
export async function savedFrom(page: Page): Promise<Saved> {
  const folder = fs.mkdtempSync(path.join(os.tmpdir(), "nerrit-saved-"));
  const session = await page.createCDPSession();
  await session.send("Browser.setDownloadBehavior", { behavior: "allow", downloadPath: folder });
  const saveBy = async (press: () => Promise<unknown>) => {
    for (const file of fs.readdirSync(folder)) fs.rmSync(path.join(folder, file));
    await press();
    const done = () => fs.readdirSync(folder).filter((name) => !name.endsWith(".crdownload"));
    await expect.poll(() => done().length).toBe(1);
    return fs.readFileSync(path.join(folder, done()[0]!));
  };
  return {
    saveBy,
    save: (title, kind) =>
      saveBy(async () => {
        await (await page.waitForSelector(`button[aria-label^="Save: ${title}"]`))!.click();
        await clickOn(page, '[role="menuitem"]', kind);
      }),
    end: () => fs.rmSync(folder, { recursive: true, force: true }),
  };
}
