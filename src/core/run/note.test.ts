import { describe, expect, it } from "vitest";
import { noteAt, NoteRequest, NOTED } from "./note";
import { Reading, RunEvent } from "./result";

describe("a note during a run", () => {
  it.each([
    ["case 48 °C", 48],
    ["61.5C at the bridge", 61.5],
    ["room 21,5 °C", 21.5],
    ["-5 °C outside", -5],
    ["fan on", null],
    ["USB-C plugged in again", null],
    ["PCIe 3C", 3],
    ["4000 °C", null],
  ])("%s", (text, celsius) => {
    const { event, reading } = noteAt(1200, text);
    expect(RunEvent.parse(event)).toMatchObject({ ms: 1200, kind: "mark", text });
    expect(reading && Reading.parse(reading).celsius[NOTED]).toBe(celsius);
  });

  it("is a line that says something", () => {
    expect(NoteRequest.safeParse({ text: " " }).success).toBe(false);
    expect(NoteRequest.safeParse({ text: "x".repeat(201) }).success).toBe(false);
    expect(NoteRequest.safeParse({ text: "fan on", agoMs: -1 }).success).toBe(false);
    expect(NoteRequest.parse({ text: " fan on " })).toEqual({ text: "fan on", agoMs: 0 });
  });
});
