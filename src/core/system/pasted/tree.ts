/** A report in text as a tree of things, each with what is said of it. */

export interface Item {
  name: string;
  /** What is said of it, by its heading in the report. */
  values: Map<string, Said>;
  items: Item[];
  /** Where it begins. */
  line: number;
}

export interface Said {
  value: string;
  line: number;
}

const INDENT = /^\s*/;
/** Deeper than any bus is wired. */
const MOST_DEPTH = 40;

/**
 * Reads indented text: "Name:" begins a thing, "heading: value" says something of the thing that it is
 * indented below.
 *
 * @returns the things that stand below none
 * @throws RangeError where things are nested deeper than any system nests them
 */
export function readTree(text: string): Item[] {
  const root: Item = { name: "", values: new Map(), items: [], line: 0 };
  const open: { item: Item; indent: number }[] = [{ item: root, indent: -1 }];
  for (const [i, raw] of text.split(/\r?\n/).entries()) {
    const line = raw.trim();
    if (line === "") continue;
    const indent = INDENT.exec(raw)![0].length;
    while (open.length > 1 && open.at(-1)!.indent >= indent) open.pop();
    const above = open.at(-1)!.item;
    if (line.endsWith(":")) {
      if (open.length > MOST_DEPTH)
        throw new RangeError(`line ${i + 1}: more than ${MOST_DEPTH} things one within the other`);
      const item = { name: line.slice(0, -1), values: new Map(), items: [], line: i + 1 };
      above.items.push(item);
      open.push({ item, indent });
      continue;
    }
    const colon = line.indexOf(": ");
    if (colon > 0)
      above.values.set(line.slice(0, colon).trim(), {
        value: line.slice(colon + 2).trim(),
        line: i + 1,
      });
  }
  return root.items;
}

/** What is said of a thing under one of several headings. */
export const saidOf = ({ values }: Item, ...headings: string[]): Said | null =>
  headings.map((heading) => values.get(heading)).find((said) => said !== undefined) ?? null;
