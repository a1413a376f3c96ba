import { readCaliper } from '$lib/server/caliper.ts';
import { error, json } from '@sveltejs/kit';

export function GET({ url }) {
  const part = url.searchParams.get('part') ?? error(400, 'Name the part between the jaws, as in ?part=R-07.');
  return json(readCaliper(part) ?? error(404, `The simulated caliper has the demo parts only; “${part}” is not one.`));
}
