import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Train } from '@lodestone/core/train';
import type { StoredTrain } from '$lib/api/trains.ts';
import { MOST_SITTINGS } from '$lib/api/history.ts';
import { migrate } from '../../../scripts/setup/migrate.mjs';
import { asOwner, closeDatabase } from './database.ts';
import { nameRevision, readHistory, readStates } from './history.ts';
import { heron, ownerUrl } from './testing.ts';
import { createTrain, saveRevision, type SaveOutcome } from './trains.ts';

const owner = `history ${randomUUID()}`;
let id: string;

/** What was stored, where something was. */
function stored(outcome: SaveOutcome): StoredTrain {
  if (outcome.kind !== 'stored') throw new Error(`the test's train was ${outcome.kind}`);
  return outcome.train;
}

const longer = (lengthMm: number): Train => ({
  ...heron,
  elements: heron.elements.map((element) =>
    element.id === 'wheel' ? { ...element, lengthMm } : element
  ) as Train['elements']
});

beforeAll(async () => {
  await migrate(ownerUrl);
  ({ id } = stored(await createTrain(owner, randomUUID(), heron)));
  for (let number = 1; number < 6; number++) {
    await saveRevision(owner, id, { saveId: randomUUID(), basedOn: number, document: longer(20 + number / 10) });
  }
});
afterAll(closeDatabase);

describe('the history of a train', () => {
  it('is one sitting without a pause, and told from any state to any later one', async () => {
    const history = (await readHistory(owner, id))!;
    expect(history.sittings.map(({ first, last }) => [first, last])).toEqual([[1, 6]]);
    expect(history.more).toBe(false);
    const [whole, step, begun] = await readStates(owner, id, [
      { number: 6, since: 1 },
      { number: 3, since: 2 },
      { number: 1, since: undefined }
    ]);
    expect(whole!.changes).toEqual([
      { what: 'length', name: expect.any(String), wasMm: expect.any(Number), isMm: 20.5 }
    ]);
    expect(step!.changes).toEqual([{ what: 'length', name: expect.any(String), wasMm: 20.1, isMm: 20.2 }]);
    expect(begun!.changes).toEqual([]);
    expect(step!.residualMm! - begun!.residualMm!).toBeCloseTo(
      20.2 - (whole!.changes[0] as { wasMm: number }).wasMm,
      9
    );
  });

  it('knows the devices of a sitting, each once, and none where the server made a state', async () => {
    const { id: shared } = stored(await createTrain(owner, randomUUID(), heron, 'Desk'));
    for (const [index, device] of ['Phone', undefined, 'Desk', 'Phone'].entries()) {
      const save = { saveId: randomUUID(), basedOn: index + 1, document: longer(21 + index / 10), device };
      expect((await saveRevision(owner, shared, save)).kind).toBe('stored');
    }
    expect((await readHistory(owner, shared))!.sittings.map(({ devices }) => devices)).toEqual([['Desk', 'Phone']]);
    expect((await readHistory(owner, id))!.sittings[0]!.devices).toEqual([]);
  });

  it('ends before a revision, and knows no other owner', async () => {
    expect((await readHistory(owner, id, 4))!.sittings.map(({ last }) => last)).toEqual([3]);
    expect(await readHistory('somebody else', id)).toBeUndefined();
    expect(await readStates('somebody else', id, [{ number: 1, since: undefined }])).toEqual([]);
    expect(await readStates(owner, id, [{ number: 99, since: 1 }])).toEqual([]);
  });

  it('has names of its own for states that are there', async () => {
    expect(await nameRevision(owner, id, 2, 'Before the wheel')).toBe(true);
    expect(await nameRevision(owner, id, 2, 'Before the new wheel')).toBe(true);
    expect(await nameRevision(owner, id, 99, 'Nothing')).toBe(false);
    expect(await nameRevision('somebody else', id, 2, 'Mine')).toBe(false);
    expect((await readHistory(owner, id))!.names).toEqual([{ number: 2, name: 'Before the new wheel' }]);
    await nameRevision(owner, id, 2, undefined);
    expect((await readHistory(owner, id))!.names).toEqual([]);
  });

  it('of twenty thousand states comes in sittings, page by page', async () => {
    const { id: old } = stored(await createTrain(owner, randomUUID(), heron));
    // A state every ten minutes, and a night's pause after each hundred.
    await asOwner(owner, (on) =>
      on.query(
        `insert into train_revision (owner, train_id, number, save_id, document, created_at)
         select $1, $2, number, gen_random_uuid(), $3,
                now() - interval '5 years' + make_interval(mins => number * 10, days => number / 100)
           from generate_series(2, 20000) number`,
        [owner, old, JSON.stringify(heron)]
      )
    );
    const first = (await readHistory(owner, old))!;
    expect(first.sittings).toHaveLength(MOST_SITTINGS);
    expect(first.more).toBe(true);
    let { sittings } = first;
    for (let page = first; page.more; page = (await readHistory(owner, old, sittings.at(-1)!.first))!) {
      if (page !== first) sittings = [...sittings, ...page.sittings];
      if (sittings.length > 2000) break;
    }
    // The last page is not in yet: it ended the loop.
    const rest = await readHistory(owner, old, sittings.at(-1)!.first);
    const all = [...sittings, ...(rest?.sittings ?? [])];
    expect(all[0]!.last).toBe(20_000);
    expect(all.at(-1)!.first).toBe(1);
    for (const [index, { first: from }] of all.entries()) expect(all[index + 1]?.last ?? 0).toBe(from - 1);
  });
});
