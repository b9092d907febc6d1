import fs from "node:fs";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { DARK, inLight, LIGHT } from "./theme";

describe("the colours of a report", () => {
  const sheet = fs.readFileSync(path.resolve(import.meta.dirname, "../app/globals.css"), "utf8");
  const rolesOf = (selector: string) => {
    const rules = sheet.slice(sheet.indexOf(selector));
    const block = rules.slice(0, rules.indexOf("}"));
    return Object.fromEntries(
      [...block.matchAll(/--(\w+): (#[0-9a-f]{6});/g)].map(([, role, colour]) => [role, colour]),
    );
  };

  it("are those of the pages, by day and by night", () => {
    expect(LIGHT).toEqual(rolesOf('[data-theme="light"]'));
    expect(DARK).toEqual(rolesOf('[data-theme="dark"]'));
  });

  it("are those of the day in a picture that stands by itself", () => {
    expect(inLight('<path fill="var(--flow)" stroke="var(--unknown)"/>')).toBe(
      `<path fill="${LIGHT.flow}" stroke="var(--unknown)"/>`,
    );
  });
});
