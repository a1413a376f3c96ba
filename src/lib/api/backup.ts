/** What a backup is marked with. */
export const BACKUP_TAG = 'backup/1';

/** Largest archive that is read back, bytes. */
export const MAX_BACKUP_BYTES = 512 * 1024 * 1024;

/** One file of a backup. */
export interface BackupFile {
  path: string;
  rows: number;
  bytes: number;
  /** SHA-256, hexadecimal. */
  sha256: string;
}

/** What stands in `manifest.json` of a backup. */
export interface BackupManifest {
  lodestone: typeof BACKUP_TAG;
  /** ISO 8601. */
  madeAt: string;
  /** Pixels of test frames are in it. */
  pixels: boolean;
  files: BackupFile[];
}

/** How often a backup is made by itself, and how many are kept. */
export interface BackupSchedule {
  /** Days from one to the next; null for none. */
  days: number | null;
  keep: number;
}

/** A backup in the server's folder. */
export interface KeptBackup {
  name: string;
  bytes: number;
  /** ISO 8601. */
  madeAt: string;
  /** It was made here, and goes once there are enough newer ones; what somebody put there stays. */
  isOwn: boolean;
}

export interface KeptBackups {
  /** Null where the server keeps none. */
  folder: string | null;
  list: KeptBackup[];
  schedule: BackupSchedule;
  /** Why the last one was not made. */
  failure: string | null;
}

/** What a backup would bring, or has brought, into this installation. */
export interface RestoreReport {
  madeAt: string;
  /** Trains that are not here yet, by name, and those that are: these stay as they are. */
  trains: { fresh: string[]; there: string[] };
  parts: { fresh: number; there: number };
  records: number;
  frames: number;
  photos: number;
  /** Trains that are put together there and whose parts are in others here: they come taken apart. */
  apart: string[];
}
