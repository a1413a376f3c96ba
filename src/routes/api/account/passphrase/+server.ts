import { validateChangePassphrase } from '$lib/api/generated/validate.js';
import { changePassphrase, nameKey } from '$lib/server/owners/accounts.ts';
import { needSession, tryToEnter } from '$lib/server/owners/entering.ts';
import { SMALL_BODY_BYTES, readBody } from '$lib/server/requests.ts';
import { error, json } from '@sveltejs/kit';

export async function PUT(event) {
  const { owner, name, session } = needSession(event.locals);
  const asked = await readBody(event.request, validateChangePassphrase, SMALL_BODY_BYTES);
  const came = await tryToEnter(event, nameKey(name), async () => {
    const changed = await changePassphrase(owner, { ...asked, session });
    return changed.kind === 'wrong' ? undefined : changed;
  });
  if (!came) error(422, 'That is not your passphrase of now.');
  if (came.kind === 'refused') error(422, came.message);
  return json(null);
}
