/**
 * Signs that turn the direction of whatever follows them: in a name they would turn the sentence round
 * it. Scripts that are written from right to left need none of them.
 */
const TURNS = /[\u202a-\u202e\u2066-\u2069]/g;

/** Text in which nothing turns the direction of what stands beside it. */
export const unturned = (text: string): string => text.replace(TURNS, "");
