import { it } from "vitest";

/** A test that `npm run test:all` alone does: a variation of what another one proves, or one that takes long. */
export const LONG = { tags: "long" };

/** A test of several cases, of which `npm test` does the first alone. */
export const eachFirst =
  <S extends string, T extends [S, ...(S | string[])[]]>(...[first, ...others]: T[]) =>
  (name: string, test: (...values: T) => unknown): void => {
    it.for([first!])(name, async (values) => void (await test(...values)));
    it.for(others)(name, LONG, async (values) => void (await test(...values)));
  };
