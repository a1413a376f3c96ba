import type { Train } from '@lodestone/core';
import type { Part } from '@lodestone/core/drawer';
import type { RingSpec } from '@lodestone/core/finder';

/** What can be printed. */
export type PrintJob =
  | { kind: 'labels'; parts: readonly Part[]; origin: string }
  | { kind: 'check-sheet'; train: Train; buy: readonly string[] }
  | { kind: 'ring'; ring: RingSpec; title: string };

export type Printed = { pdf: Uint8Array<ArrayBuffer> } | { failure: string };
