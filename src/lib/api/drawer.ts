import type { PartUse } from '@lodestone/core/drawer';

/** A part as the server hands it over. */
export interface StoredPart {
  /** The part as it stands in a drawer document. */
  document: Record<string, unknown>;
  /** Goes up with every change. */
  version: number;
  /** Hash of its photo, where it has one: names the picture for as long as it stays the same. */
  photo: string | null;
  /** ISO 8601. */
  changedAt: string;
}

/** The whole drawer. */
export interface StoredDrawer {
  /** Number of the state it is in; what is read beside it is at least as new. */
  number: number;
  parts: StoredPart[];
  uses: PartUse[];
  /** Numbers of parts that were deleted: they stand on real labels, and are not given again. */
  retired: string[];
}

/** Answer to a change: the parts it touched, and the trains that followed it. */
export interface DrawerChanged {
  parts: StoredPart[];
  removed: string[];
  /** Names of trains that got a new revision because a part of theirs changed. */
  trains: string[];
  /** Number of the state the drawer is in after it, as its events count them. */
  number: number;
}

/** Answer to a change that was made from parts which have changed since. */
export interface StaleDrawer {
  message: string;
  parts: StoredPart[];
  /** Numbers of parts that are gone. */
  missing: string[];
  /** Number of the state the drawer is in. */
  number: number;
}

/** A part that a train wants but another assembled train has. */
export interface HoldConflict {
  partId: string;
  elementId: string;
  /** What holds it: empty where the drawer simply has fewer copies than the train wants. */
  heldBy: { trainId: string; trainName: string }[];
}

/** Whether a train is put together. */
export interface Assembly {
  revision: number;
  /** ISO 8601. */
  assembledAt: string;
  holdings: { partId: string; copy: number; elementId: string }[];
}

export interface AssemblyRefused {
  message: string;
  conflicts: HoldConflict[];
}

/** One reading of the simulated caliper. */
export interface CaliperReading {
  lengthMm: number;
  instrument: string;
  maxErrorMm: number;
}
