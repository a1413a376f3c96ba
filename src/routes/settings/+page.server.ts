import { keptBackups } from '$lib/server/backup/kept.ts';
import { roomOf } from '$lib/server/retention.ts';

export const load = async ({ locals: { owner } }) => {
  const [room, kept] = await Promise.all([roomOf(owner), keptBackups(owner)]);
  return { room, kept };
};
