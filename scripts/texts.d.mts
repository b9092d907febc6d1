/** A text that somebody reads, with where it stands. */
export interface ReadText {
  file: string;
  line: number;
  text: string;
}
export function textsIn(file: string, source?: string): ReadText[];
export function filesWithTexts(): string[];
export function sentencesOf(text: string): string[];
export function wordsOf(sentence: string): string[];
