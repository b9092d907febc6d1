/** Trade words are written in many ways; here each has one, so that "10Gbps" finds "10 Gb/s". */

const SPEED = /(\d+(?:\.\d+)?)\s*(g|m)(?:b\/s|bps|bit\/s|bits\/s|bit|b)?(?![\w/.])/gi;

/**
 * The words of a text as they are compared: lower case, speeds without their unit ("10g", "480m"), words
 * with hyphens and dots in them also without ("usb-c", "usbc", "usb", "c"; "m.2", "m2").
 */
export function wordsOf(text: string): string[] {
  const plain = text
    .toLowerCase()
    .replaceAll("×", "x")
    .replace(SPEED, (_, figure: string, size: string) => `${Number(figure)}${size}`);
  return plain.split(/[\s,;:()/+]+/).flatMap((word) => {
    if (word === "") return [];
    const joined = /[a-z]/.test(word) ? word.replace(/[-.]/g, "") : word;
    const pieces = word.includes("-") ? word.split("-").filter(Boolean) : [];
    return [...new Set([word, joined, ...pieces])];
  });
}

/** The words that were typed, each once, as they are compared. */
export const typedWords = (text: string): string[] =>
  text
    .replace(SPEED, (_, figure: string, size: string) => ` ${figure}${size} `)
    .split(/[\s,;:()]+/)
    .filter(Boolean);

/** Whether a typed word means one of some words: the same, its plural, or how a word of letters begins. */
export function means(typed: string, words: ReadonlySet<string>): boolean {
  const [word = "", joined = word] = wordsOf(typed);
  if (words.has(word) || words.has(joined)) return true;
  if (word.endsWith("s") && words.has(word.slice(0, -1))) return true;
  if (!/^[a-z]{2,}$/.test(word)) return false;
  for (const known of words) if (known.startsWith(word)) return true;
  return false;
}
