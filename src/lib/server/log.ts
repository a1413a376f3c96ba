/** One line of JSON for each event, where somebody collects them; else a line for people. */
const isJson = process.env.LODESTONE_LOG === 'json';

/**
 * Writes down that something happened.
 *
 * @param fields what belongs to it: the request’s id, how long it took
 */
export function log(level: 'error' | 'warning', words: string, fields: Readonly<Record<string, unknown>> = {}): void {
  if (isJson) return console.error(JSON.stringify({ at: new Date().toISOString(), level, words, ...fields }));
  const further = Object.entries(fields).map(([name, each]) => `${name} ${String(each)}`);
  console.error([words, ...further].join(', '));
}

/** An error as a log has it: what it says, and where it was. */
export const errorFields = (error: unknown): Record<string, unknown> =>
  error instanceof Error ? { error: error.stack ?? error.message } : { error: String(error) };
