/**
 * The header that has a browser keep a file under a name; other scripts than Latin in the form of RFC 6266.
 *
 * @param shown whether the browser keeps it at once, or shows it and keeps it when it is asked to
 * @param name with its ending, of signs that every system takes (core/units/file-name.ts)
 */
export function attachment(name: string, shown: "attachment" | "inline" = "attachment"): string {
  const plain = name.normalize("NFKD").replace(/[^\w.-]+/g, "-");
  return `${shown}; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(name)}`;
}
