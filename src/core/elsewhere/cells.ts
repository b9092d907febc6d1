import Papa from "papaparse";

/** The cells of a table as it is pasted, line by line: parted by tabs where there are any, else by what is used most. */
export const cellsOf = (text: string): string[][] =>
  Papa.parse<string[]>(text.replace(/^\uFEFF/, "").trimEnd(), {
    delimiter: text.includes("\t") ? "\t" : "",
    delimitersToGuess: [";", ",", "|"],
  }).data;
