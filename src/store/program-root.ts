/** The folder of this program: the command says it (bin/nerrit.mjs), the server runs in it. */
export const programRoot = (): string =>
  process.env.NERRIT_ROOT || /* turbopackIgnore: true */ process.cwd();
