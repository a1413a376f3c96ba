import { readFileSync } from 'node:fs';
import { readDrawer, type Part } from '../src/drawer/index.ts';
import { readTrainText, type Train } from '../src/train/index.ts';

const textOf = (file: string): string => readFileSync(new URL(`../../demo/${file}`, import.meta.url), 'utf8');

/** A train of the demo. */
export function readDemo(file: string): Train {
  const reading = readTrainText(textOf(file));
  if (!reading.ok) throw new Error(reading.complaints[0]?.message);
  return reading.document;
}

/** The drawer of the demo. */
export function demoDrawer(): Part[] {
  const reading = readDrawer(JSON.parse(textOf('drawer.json')));
  if (!reading.ok) throw new Error(reading.complaints[0]?.message);
  return reading.document;
}
