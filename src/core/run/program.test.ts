import { describe, expect, it } from "vitest";
import { timeIsOver } from "./program";

describe("a flow that ends by time", () => {
  const flow = { seconds: 0.5, leastRequests: 0 };

  it("ends with its time, and never before", () => {
    expect(timeIsOver(flow, 499, 1000)).toBe(false);
    expect(timeIsOver(flow, 500, 1)).toBe(true);
    expect(timeIsOver({ ...flow, seconds: null }, 1e9, 1000)).toBe(false);
  });

  it("waits for a first answer, as a machine may stand still, but not for ever", () => {
    expect(timeIsOver(flow, 5000, 0)).toBe(false);
    expect(timeIsOver(flow, 20_000, 0)).toBe(true);
  });

  it("goes on for as many requests as it needs, for a minute at most", () => {
    const needs = { ...flow, leastRequests: 33 };
    expect(timeIsOver(needs, 30_000, 32)).toBe(false);
    expect(timeIsOver(needs, 30_000, 33)).toBe(true);
    expect(timeIsOver(needs, 60_000, 32)).toBe(true);
  });
});
