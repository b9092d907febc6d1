import { describe, expect, it } from "vitest";
import { cable, drive, enclosure, port, rig } from "../testing/rigs";
import { askedRig, askedRigPath, type AskedRig } from "./asked-rig";

const parts = [port(), cable(undefined, "K1"), enclosure(), drive()];
const whole = {
  ...rig(parts),
  id: "whole",
  fileSystem: "exFAT",
  transport: "usb-unqueued" as const,
};
const spare = cable(undefined, "K & 2/ä");
const back = (asked: AskedRig) => {
  const { searchParams } = new URL(askedRigPath("study", asked), "http://here");
  const query = Object.fromEntries(
    [...searchParams.keys()].map((name) => {
      const values = searchParams.getAll(name);
      return [name, values.length > 1 ? values : values[0]];
    }),
  );
  return askedRig(query, [whole], [spare]);
};

describe("a rig asked for in an address", () => {
  it("is like another but for what is said", () => {
    const ids = parts.map(({ id }) => (id === "K1" ? spare.id : id));
    const made = back({ like: "whole", parts: ids });
    expect(made).toMatchObject({
      id: "",
      name: "",
      fileSystem: "exFAT",
      transport: "usb-unqueued",
    });
    expect(made!.parts.map(({ name }) => name)).toEqual(["port", "K & 2/ä", "box", "drive"]);
    expect(back({ like: "whole", fileSystem: "", transport: null })).toMatchObject({
      fileSystem: "",
      transport: null,
      parts,
    });
  });

  it("is none where what it names is not there", () => {
    expect(back({ like: "gone" })).toBeNull();
    expect(back({ like: "whole", parts: ["gone"] })).toBeNull();
    expect(askedRig({ like: ["whole", "whole"] }, [whole], [])).toBeNull();
  });
});
