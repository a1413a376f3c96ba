import type { Fastener } from '@lodestone/core/train';
import type { Column } from './ListEditor.svelte';

/** Columns of a list of screws. */
export const FASTENERS: Column<Fastener>[] = [
  { key: 'count', label: 'Count', kind: 'number', required: true, width: 'w-12' },
  { key: 'thread', label: 'Thread', kind: 'text', required: true },
  { key: 'lengthMm', label: 'Long', kind: 'length' },
  { key: 'head', label: 'Head', kind: 'text' },
  { key: 'tool', label: 'Tool', kind: 'text' }
];

/** An empty list is no list. */
export const orNothing = <Entry>(list: readonly Entry[]): readonly Entry[] | undefined =>
  list.length === 0 ? undefined : list;
