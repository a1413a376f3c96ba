import type { Train } from '@lodestone/core/train';
import type { HiddenTruth } from '@lodestone/core/experiment';
import type { RowOrder } from '@lodestone/core/frame';
import type { Part } from '@lodestone/core/drawer';
import type { AssemblyOrder } from '@lodestone/core/assembly';
import type { BuildRecord } from '../../api/records.ts';
import type { Variant } from '@lodestone/core/drawing';
import type { LengthUnit } from '@lodestone/core/why';

/** Something that takes long, or much memory, and that nobody else shall wait for. */
export type Errand =
  | { kind: 'labels'; parts: readonly Part[]; origin: string; unit: LengthUnit }
  | { kind: 'check-sheet'; train: Train; buy: readonly string[]; unit: LengthUnit }
  | { kind: 'ring'; variants: readonly Variant[]; title: string }
  | { kind: 'sheet'; train: Train; order: AssemblyOrder; unit: LengthUnit }
  | { kind: 'bench-sheet'; train: Train; parts: readonly Part[]; unit: LengthUnit }
  | {
      kind: 'record';
      record: BuildRecord;
      photos: readonly Uint8Array[];
      unit: LengthUnit;
      timeZone: string | undefined;
    }
  | {
      kind: 'comparison';
      trains: readonly { title: string; train: Train }[];
      parts: readonly Part[];
      /** Rows by which one is better than another. */
      counts: readonly string[];
      unit: LengthUnit;
    }
  // Pictures and frames lie in files: between processes they would be copied, and held twice.
  | { kind: 'picture'; path: string }
  | { kind: 'read-frame'; path: string; picture?: number | undefined; rowOrder?: RowOrder | undefined }
  | { kind: 'take-frame'; train: Train; truth: HiddenTruth; seed: number; binning: number; into: string };

/** What an errand brings back. */
export interface Brought {
  bytes: Uint8Array<ArrayBuffer>;
  /** Of a picture, px. */
  width?: number;
  height?: number;
}

export type Reply = { brought: Brought } | { failure: string; notAPicture?: true };

/** More than can be done for one request: it needs more memory, or more time, than there is. */
export class TooMuch extends Error {
  override name = 'TooMuch';
}

/** Something that is not a picture or a frame, whatever it called itself; the message says why. */
export class NotAPicture extends Error {
  override name = 'NotAPicture';
}
