/** Why an archive cannot be written or read, in words that say what to do. */
export class ArchiveProblem extends Error {
  constructor(message: string) {
    super(message);
    this.name = "ArchiveProblem";
  }
}
