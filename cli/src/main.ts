import { BAD_INPUT, GOOD, InputError, USAGE } from './input.ts';

export { BAD_INPUT, GOOD, NOT_GOOD } from './input.ts';

/** Commands by name; each loads only what it needs. */
const COMMANDS: Readonly<Record<string, (words: readonly string[]) => Promise<number>>> = {
  check: async (words) => (await import('./trains.ts')).check(words),
  find: async (words) => (await import('./trains.ts')).find(words),
  sheet: async (words) => (await import('./trains.ts')).sheet(words),
  changeover: async (words) => (await import('./trains.ts')).changeover(words),
  focus: async (words) => (await import('./trains.ts')).focus(words),
  frame: async (words) => (await import('./frame.ts')).frame(words),
  tune: async (words) => (await import('./tune.ts')).tune(words),
  simulate: async (words) => (await import('./simulate.ts')).simulate(words)
};

/**
 * The `lodestone` command.
 *
 * @param words arguments after the program's name
 * @returns the exit code: 0 good, 1 a real answer that is not good, 2 wrong input
 */
export async function main(words: readonly string[]): Promise<number> {
  const [command, ...rest] = words;
  try {
    if (command === '--help' || command === 'help') {
      process.stdout.write(`${USAGE}\n`);
      return GOOD;
    }
    const run = command !== undefined && Object.hasOwn(COMMANDS, command) ? COMMANDS[command] : undefined;
    if (!run) throw new InputError(command === undefined ? USAGE : `unknown command ${command}; ${USAGE}`);
    return await run(rest);
  } catch (error) {
    if (!(error instanceof InputError)) throw error;
    process.stderr.write(`lodestone: ${error.message.replaceAll(/\s*\n\s*/g, ' ')}\n`);
    return BAD_INPUT;
  }
}
