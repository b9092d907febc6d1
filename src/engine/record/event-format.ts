/** A field of an event as the kernel lays it out: bytes from the event's beginning. */
export interface Field {
  offset: number;
  size: number;
}

/** What an event's format file says (Documentation/trace/events.rst, "Event formats"). */
export interface EventFormat {
  id: number;
  fields: Map<string, Field>;
}

/** Reads a format file. @throws RangeError where it is none */
export function parseEventFormat(text: string): EventFormat {
  const id = /^ID:\s*(\d+)/m.exec(text)?.[1];
  if (id === undefined)
    throw new RangeError("The kernel describes a trace point without its number.");
  const fields = new Map<string, Field>();
  for (const [, declared, offset, size] of text.matchAll(
    /field:([^;]+);\s*offset:(\d+);\s*size:(\d+);/g,
  )) {
    // "unsigned int nr_sector", "char rwbs[10]"
    const name = /(\w+)\s*(?:\[[^\]]*\])?$/.exec(declared!.trim())?.[1];
    if (name) fields.set(name, { offset: Number(offset), size: Number(size) });
  }
  return { id: Number(id), fields };
}

/** A field by one of its names. @throws RangeError where the kernel has none of them */
export function fieldOf({ fields }: EventFormat, ...names: string[]): Field {
  for (const name of names) {
    const field = fields.get(name);
    if (field) return field;
  }
  throw new RangeError(`The kernel tells no ${names.join(" or ")} of requests.`);
}
