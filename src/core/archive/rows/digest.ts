/** Gives the same short text for the same text, and another for any other. */
export type Digest = (text: string) => string;
