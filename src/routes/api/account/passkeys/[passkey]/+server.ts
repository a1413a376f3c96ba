import { validatePasskeyPath } from '$lib/api/generated/validate.js';
import { needSession } from '$lib/server/owners/entering.ts';
import { dropPasskey } from '$lib/server/owners/passkeys.ts';
import { readPath } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function DELETE({ params, locals }) {
  const { owner } = needSession(locals);
  const { passkey } = readPath(params, validatePasskeyPath, 'passkey');
  if (!(await dropPasskey(owner, passkey))) error(409, 'This is the only way you sign in. Set a passphrase first.');
  return json(null);
}
