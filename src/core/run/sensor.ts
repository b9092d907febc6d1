/** What a temperature out of another program's log is called among those of a run. */
export const fromLog = (log: string, head: string): string => `log ${log}: ${head}`;

const FROM_LOG = /^log (.*): ([^:]*)$/;

/** The log that a temperature was taken from; null where the run itself told it. */
export const logOf = (what: string): string | null => FROM_LOG.exec(what)?.[1] ?? null;

/** What a temperature is of, wherever it was taken from. */
export const sensorOf = (what: string): string => FROM_LOG.exec(what)?.[2] ?? what;
