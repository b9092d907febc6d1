import os from "node:os";
import path from "node:path";
import { describe, expect, it } from "vitest";
import { answering } from "./answering";

/** A file system that answers when it is let. */
function silent() {
  let asked = 0;
  let answer!: () => void;
  const ask = () => {
    asked++;
    return new Promise<void>((resolve) => (answer = resolve));
  };
  return { ask, answer: () => answer(), asked: () => asked };
}

describe("a sign of life of a place", () => {
  it("is any answer, also that there is no such place", async () => {
    await answering(os.tmpdir());
    await answering(path.join(os.tmpdir(), "no", "such", "place"));
    await answering("/x", 1000, () => Promise.reject(new Error("EIO")));
  });

  it("is refused with what it was and what to do, where none comes", async () => {
    const { ask, answer } = silent();
    await expect(answering(os.tmpdir(), 20, ask)).rejects.toMatchObject({
      code: "no-answer",
      message: expect.stringMatching(/has not answered for .*Look whether/),
    });
    answer();
  });

  it("is asked for once, however often it is wanted, and anew once it came", async () => {
    const { ask, answer, asked } = silent();
    for (let i = 0; i < 5; i++) await expect(answering("/", 5, ask)).rejects.toThrow();
    expect(asked()).toBe(1);
    answer();
    const again = answering("/", 60_000, ask);
    await expect.poll(asked).toBe(2);
    answer();
    await again;
  });
});
