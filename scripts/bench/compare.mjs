// One run of the benchmarks beside an earlier one: each figure with how many times as large it is.
import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';

const NUMBER = /\d[\d,]*(?:\.\d+)?(?:e[+-]?\d+)?/g;
/** Columns that lines are padded to, so that the ratios stand under each other. */
const WIDTH = 100;

const numbersIn = (line) => (line.match(NUMBER) ?? []).map((each) => Number(each.replaceAll(',', '')));

/** What a line says, whatever its figures are: its words below its heading. */
function* told(text) {
  let heading = '';
  for (const line of text.split('\n')) {
    if (line.trim() === '') continue;
    if (!line.startsWith(' ')) heading = line;
    yield { line, key: `${heading}\n${line}`.replace(NUMBER, '#').replace(/\s+/g, ' '), numbers: numbersIn(line) };
  }
}

/** How many times as large a figure is: `×0.84`; nothing where it is the same, or one of them is none. */
const ratio = (before, now) => (before === now || before === 0 ? undefined : `×${(now / before).toFixed(2)}`);

/**
 * Puts a run beside an earlier one. A line that stands several times under one heading is compared in order.
 *
 * @param before what the earlier run printed
 * @returns to be called with each line of the later run, in order: the line, with the ratios of its figures behind it
 */
export function comparison(before) {
  const earlier = new Map();
  for (const { key, numbers } of told(before)) earlier.set(key, [...(earlier.get(key) ?? []), numbers]);
  let heading = '';
  return (line) => {
    if (line.trim() !== '' && !line.startsWith(' ')) heading = line;
    const each = [...told(line.startsWith(' ') ? `${heading}\n${line}` : line)].at(-1);
    if (!each) return line;
    const was = earlier.get(each.key)?.shift();
    const ratios = was?.flatMap((number, at) => ratio(number, each.numbers[at]) ?? []) ?? [];
    return ratios.length === 0 ? line : `${line.padEnd(WIDTH)} ${ratios.join(' ')}`;
  };
}

/** Runs the benchmarks and prints them beside what an earlier run printed into a file. @returns exit code */
export async function runCompared(program, file, parts) {
  const beside = comparison(readFileSync(file, 'utf8'));
  const running = spawn(process.execPath, [program, ...parts], { stdio: ['ignore', 'pipe', 'inherit'] });
  for await (const line of createInterface({ input: running.stdout })) console.log(beside(line));
  if (running.exitCode === null) await once(running, 'exit');
  return running.exitCode ?? 1;
}
