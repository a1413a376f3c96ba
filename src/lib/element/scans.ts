import { ask, isRecord, settled } from '$lib/api/ask.ts';
import { MAX_SCAN_BYTES } from '$lib/api/scans.ts';
import { sizeInWords } from '$lib/ui/size.ts';

/** Slow enough for twenty megabytes over a poor line. */
const SCAN_TIMEOUT_MS = 120_000;

/** Keeps a scan or a drawing on the server. @returns its hash, by which documents name it */
export async function sendScan(file: File): Promise<string> {
  if (file.size > MAX_SCAN_BYTES) {
    throw new Error(`${file.name} has ${sizeInWords(file.size)}; a scan may have ${sizeInWords(MAX_SCAN_BYTES)}.`);
  }
  const kept: unknown = settled(await ask('POST', '/api/scans', file, SCAN_TIMEOUT_MS));
  if (!isRecord(kept) || typeof kept['scan'] !== 'string') throw new Error('The scan was not kept: try again.');
  return kept['scan'];
}
