import { describe, expect, it } from "vitest";
import { formatDay, minutesAhead, onClocks } from "./day";

describe("an instant", () => {
  it("is written by the clocks of a zone, over midnight and in summer time", () => {
    expect(onClocks("2026-11-30T23:30:05.250Z", "Europe/Oslo")).toBe("2026-12-01T00:30:05");
    expect(onClocks("2026-07-01T23:30:05Z", "Europe/Oslo")).toBe("2026-07-02T01:30:05");
    expect(onClocks("2026-11-30T02:30:05+02:00", "America/Lima")).toBe("2026-11-29T19:30:05");
    expect(onClocks("2026-11-30T14:05:09Z", "UTC")).toBe("2026-11-30T14:05:09");
  });

  it("tells how far a zone is ahead, in summer time too", () => {
    expect(minutesAhead("2026-11-30T23:30:05.250Z", "Europe/Oslo")).toBe(60);
    expect(minutesAhead("2026-07-01T23:30:05Z", "Europe/Oslo")).toBe(120);
    expect(minutesAhead("2026-07-01T23:30:05Z", "Asia/Kolkata")).toBe(330);
    expect(minutesAhead("2026-11-30T02:30:05+02:00", "America/Lima")).toBe(-300);
  });

  it("that is none stays as it is", () => {
    expect(onClocks("soon", "UTC")).toBe("soon");
  });

  it("has in a report the day that it says itself, wherever that is made", () => {
    expect(formatDay("2026-11-30T23:30:05Z", "26 November 2026")).toBe("30 November 2026");
    expect(formatDay("2026-11-30T23:30:05Z", "November 26, 2026")).toBe("November 30, 2026");
  });
});
