import { AsyncLocalStorage } from 'node:async_hooks';

/** Somebody at work on another owner's train. */
interface Acting {
  actor: string;
  owner: string;
}

const acting = new AsyncLocalStorage<Acting>();

/** Does something with a train of `owner`, for somebody it is shared with: to the database they stay who they are. */
export const actingFor = <T>({ actor, owner }: Acting, work: () => T): T => acting.run({ actor, owner }, work);

/** Who acts, where rows of an owner are asked for. */
export function actorOf(owner: string): string {
  const now = acting.getStore();
  return now?.owner === owner ? now.actor : owner;
}
