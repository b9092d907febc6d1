/** Why a data folder cannot be worked with, in words that say what to do. */
export class StoreProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = "StoreProblem";
  }
}
