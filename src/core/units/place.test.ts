import { describe, expect, it } from "vitest";
import { isPlace, placeFrom, placeOnAnyHost, placeText } from "./place";

const asked = placeOnAnyHost("name where");
const errors = (text: string) => asked.safeParse(text).error?.issues.map(({ message }) => message);

describe("a place", () => {
  it("is on this machine, or behind the name of a host", () => {
    expect(placeFrom("/media/drive")).toEqual({ host: null, path: "/media/drive" });
    expect(placeFrom("me@lab2:/media/a:/b")).toEqual({ host: "me@lab2", path: "/media/a:/b" });
    expect(placeFrom("/media/lab2:/x")).toEqual({ host: null, path: "/media/lab2:/x" });
    for (const text of ["/a b", "lab2:/dev/sdb", "me@10.0.0.7:/x"])
      expect(placeText(placeFrom(text))).toBe(text);
  });

  it("is a whole one only from its root on, also while it is typed", () => {
    for (const text of ["", "lab2", "lab2:", "lab2:media", "media/drive", "-o:/x", "a b:/x"]) {
      expect(isPlace(text)).toBe(false);
      expect(errors(text)).toHaveLength(1);
    }
    for (const text of ["/x", "lab2:/x", " lab2:/x "]) expect(errors(text)).toBeUndefined();
  });

  it("has a path that could be one", () => {
    expect(errors(`lab2:/${"x".repeat(5000)}`)).toHaveLength(1);
    expect(errors("lab2:/a\0b")).toHaveLength(1);
  });
});
