import { createHash } from 'node:crypto';
import { open, readFile } from 'node:fs/promises';
import type { KeptScan } from '$lib/api/scans.ts';
import { asOwner, readAs, readUnchanging } from './database.ts';
import { reencode } from './errands/index.ts';
import type { WrittenFile } from './scratch.ts';

/** What is said to a file that is neither a picture nor a PDF, whatever it is called. */
export const NO_SCAN = 'This is neither a PDF nor a picture that can be read. JPEG, PNG, WebP, GIF, TIFF and AVIF can.';

/** Every PDF says so in its first bytes (ISO 32000-1 §7.5.2). */
const PDF_MARK = '%PDF-';

async function isPdf(path: string): Promise<boolean> {
  const file = await open(path);
  try {
    const { buffer, bytesRead } = await file.read(Buffer.alloc(PDF_MARK.length), 0, PDF_MARK.length, 0);
    return buffer.toString('latin1', 0, bytesRead) === PDF_MARK;
  } finally {
    await file.close();
  }
}

/**
 * Keeps a scan or a drawing: a PDF as it is, a picture made anew. The same one is kept once.
 *
 * @throws NotAPicture
 */
export async function keepScan(owner: string, { path, hash: ofFile }: WrittenFile): Promise<KeptScan> {
  const isAsItIs = await isPdf(path);
  const type: KeptScan['type'] = isAsItIs ? 'application/pdf' : 'image/jpeg';
  const bytes = isAsItIs ? await readFile(path) : (await reencode(path)).bytes;
  const hash = isAsItIs ? ofFile : createHash('sha256').update(bytes).digest();
  await asOwner(owner, (on) =>
    on.query('insert into scan (owner, hash, type, bytes) values ($1, $2, $3, $4) on conflict do nothing', [
      owner,
      hash,
      type,
      bytes
    ])
  );
  return { scan: hash.toString('hex'), type };
}

export interface Scan {
  bytes: Buffer;
  type: KeptScan['type'];
}

export async function readScan(owner: string, scan: string): Promise<Scan | undefined> {
  const found = "from scan where owner = $1 and hash = decode($2, 'hex')";
  const type = await readAs(owner, async (on) => {
    const { rows } = await on.query<Pick<Scan, 'type'>>(`select type ${found}`, [owner, scan]);
    return rows[0]?.type;
  });
  if (!type) return undefined;
  const bytes = await readUnchanging(owner, async (on) => {
    const { rows } = await on.query<Pick<Scan, 'bytes'>>(`select bytes ${found}`, [owner, scan]);
    return rows[0]?.bytes;
  });
  return bytes && { bytes, type };
}

/** A scan as an answer. What is in a PDF, scripts among it, is not this site's: it is saved, not shown. */
export function scanResponse({ bytes, type }: Scan, scan: string): Response {
  const name = `scan-${scan.slice(0, 8)}.${type === 'application/pdf' ? 'pdf' : 'jpg'}`;
  return new Response(new Uint8Array(bytes), {
    headers: {
      'content-type': type,
      'content-disposition': `${type === 'application/pdf' ? 'attachment' : 'inline'}; filename="${name}"`,
      'content-security-policy': "default-src 'none'; sandbox",
      'x-content-type-options': 'nosniff',
      // Its address is what is in it.
      'cache-control': 'private, max-age=31536000, immutable'
    }
  });
}
