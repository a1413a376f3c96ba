import { LONGEST_QUERY } from '$lib/api/search.ts';
import { search } from '$lib/server/search.ts';
import { error, json } from '@sveltejs/kit';

/** Trains, parts and records that hold all words of `?words=`. */
export async function GET({ url, locals }) {
  const words = url.searchParams.get('words') ?? '';
  if (words.length > LONGEST_QUERY || /\p{Cc}|\p{Cs}/u.test(words)) {
    error(400, `words: at most ${LONGEST_QUERY} letters, and none of them a control character.`);
  }
  return json({ found: await search(locals.owner, words) });
}
