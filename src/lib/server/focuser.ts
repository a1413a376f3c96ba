import type { Train } from '@lodestone/core/train';
import { focuserFor, type FocuserFaults } from '@lodestone/core/experiment';
import { SimulatedFocuser, type FocuserMemory } from '@lodestone/core/focus';
import { asOwner } from './database.ts';

/** The one that was there, on the train as it is now: where its star is sharp may have changed meanwhile. */
function goneOn(train: Train, memory: FocuserMemory): SimulatedFocuser {
  const { seed, slip, backlash } = memory.spec;
  const { spec } = focuserFor(train, seed, { slip, backlash }).memory;
  return SimulatedFocuser.from({ ...memory, spec, tube: Math.min(memory.tube, spec.lastStep) });
}

/**
 * Does something with the simulated focuser that stands on a train of an owner, and keeps where it stands afterwards.
 *
 * @param faults of a new one in its place
 */
export function withFocuser<T>(
  owner: string,
  trainId: string,
  train: Train,
  work: (focuser: SimulatedFocuser) => T,
  faults?: FocuserFaults
): Promise<T> {
  return asOwner(owner, async (on) => {
    // One command at a time for each train; a first one has no row to lock yet.
    await on.query('select from train where owner = $1 and id = $2 for update', [owner, trainId]);
    const { rows } = await on.query<{ memory: FocuserMemory }>(
      'select memory from simulated_focuser where owner = $1 and train_id = $2',
      [owner, trainId]
    );
    const memory = faults ? undefined : rows[0]?.memory;
    const focuser = memory ? goneOn(train, memory) : focuserFor(train, Math.floor(Math.random() * 2 ** 31), faults);
    const done = work(focuser);
    await on.query(
      `insert into simulated_focuser (owner, train_id, memory) values ($1, $2, $3)
       on conflict (owner, train_id) do update set memory = excluded.memory`,
      [owner, trainId, JSON.stringify(focuser.memory)]
    );
    return done;
  });
}
