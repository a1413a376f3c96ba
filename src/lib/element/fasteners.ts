import type { Cable, Fastener } from '@lodestone/core/train';
import type { Column } from './ListEditor.svelte';

/** Columns of a list of screws. */
export const FASTENERS: Column<Fastener>[] = [
  { key: 'count', label: 'Count', kind: 'number', required: true, width: 'w-12' },
  { key: 'thread', label: 'Thread', kind: 'text', required: true },
  { key: 'lengthMm', label: 'Long', kind: 'length' },
  { key: 'head', label: 'Head', kind: 'text' },
  { key: 'tool', label: 'Tool', kind: 'text' }
];

/** Columns of the screws of a joint, with what may cover them later. @param parts id and name of each */
export const jointScrews = (parts: readonly (readonly [string, string])[]): Column<Fastener>[] => [
  ...FASTENERS,
  { key: 'hiddenBy', label: 'Covered by', kind: 'choice', options: [['', 'nothing'], ...parts], width: 'min-w-24' }
];

/** Columns of the screws of a holder, which hold its cover or the glass. */
export const HOLDER_SCREWS: Column<Fastener>[] = [
  ...FASTENERS,
  { key: 'washers', label: 'Washers', kind: 'number', width: 'min-w-12' },
  {
    key: 'holds',
    label: 'Hold',
    kind: 'choice',
    options: [
      ['cover', 'the cover'],
      ['filter', 'each filter']
    ],
    width: 'min-w-20'
  }
];

/** Columns of a list of cables. */
export const CABLES: Column<Cable>[] = [
  { key: 'name', label: 'Cable', kind: 'text', required: true },
  { key: 'atDeg', label: 'At °', kind: 'number', required: true },
  { key: 'reachMm', label: 'Reach', kind: 'length' },
  { key: 'neededMm', label: 'Needed', kind: 'length' },
  { key: 'slackDeg', label: 'Turns °', kind: 'number' }
];

/** An empty list is no list. */
export const orNothing = <Entry>(list: readonly Entry[]): readonly Entry[] | undefined =>
  list.length === 0 ? undefined : list;
