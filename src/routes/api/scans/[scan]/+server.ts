import { validateScanPath } from '$lib/api/generated/validate.js';
import { readPath } from '$lib/server/requests.ts';
import { readScan, scanResponse } from '$lib/server/scans.ts';
import { error } from '@sveltejs/kit';

export async function GET({ params, locals }) {
  const { scan } = readPath(params, validateScanPath, 'scan');
  return scanResponse((await readScan(locals.owner, scan)) ?? error(404, 'There is no such scan here.'), scan);
}
