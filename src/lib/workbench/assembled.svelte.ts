import { listedBriefly, type LengthUnit } from '@lodestone/core/why';
import { partIdsOf } from '@lodestone/core/train';
import { assemblySheet, stepState } from '@lodestone/core/assembly';
import type { Assembly, HoldConflict } from '$lib/api/drawer.ts';
import type { Drawer } from '$lib/parts/drawer.svelte.ts';
import { assemble, fetchAssembly, takeApart } from '$lib/parts/transport.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import type { Notices } from '$lib/ui/notices.svelte.ts';
import { getContext, setContext } from 'svelte';

/** Why somebody may not want to call a train assembled yet, in sentences. */
function doubtsAboutAssembling({ document, assessment }: TrainSession, unit: LengthUnit): string[] {
  const open = document.elements.filter(({ kind }) => kind === 'gap').map(({ name }) => `“${name}”`);
  const { verdict, errors } = assessment;
  // Who does not use the sheet is not asked about its steps.
  const started = Object.keys(document.assembly?.steps ?? {}).length > 0;
  const left = started
    ? assemblySheet(document, unit, document.assembly?.order).filter((step) => stepState(document, step) !== 'done')
        .length
    : 0;
  return [
    ...(open.length > 0 ? [`${listedBriefly(open)} ${open.length === 1 ? 'is' : 'are'} still empty.`] : []),
    ...(left > 0 ? [`${left} ${left === 1 ? 'step is' : 'steps are'} not done.`] : []),
    ...(verdict === 'short' || verdict === 'long' ? ['The sensor is not within tolerance.'] : []),
    ...errors.map((finding) => finding.say(unit))
  ];
}

/** Whether a train is put together, and how it comes to be so. */
export class Assembled {
  current = $state.raw<Assembly | null>(null);
  /** Parts that others hold, of the last attempt. */
  conflicts = $state.raw<readonly HoldConflict[]>([]);
  refused = $state(false);
  /** What there is to think about before it is called assembled; asked while there is any. */
  doubts = $state.raw<readonly string[]>([]);
  asked = $state(false);
  busy = $state(false);
  /** What is written into the record. */
  note = $state('');

  readonly #train: TrainSession;
  readonly #drawer: Drawer;
  readonly #notices: Notices;
  readonly #unit: () => LengthUnit;
  /** Of the record that is being made: kept until it is there, so that trying again makes no second one. */
  #recordId: string | undefined;

  constructor(train: TrainSession, drawer: Drawer, notices: Notices, unit: () => LengthUnit) {
    this.#train = train;
    this.#drawer = drawer;
    this.#notices = notices;
    this.#unit = unit;
  }

  /** Parts of the plan that the assembled train does not hold, or the other way round. */
  readonly changedSince = $derived.by(() => {
    if (!this.current) return false;
    const planned = this.#train.document.elements.flatMap(partIdsOf).filter((partId) => this.#drawer.byId.has(partId));
    const held = this.current.holdings.map(({ partId }) => partId);
    return planned.toSorted().join('\n') !== held.toSorted().join('\n');
  });

  /** Asks the server how it stands. */
  async refresh(): Promise<void> {
    try {
      this.current = await fetchAssembly(this.#train.id);
    } catch {
      // Without the network it stays as it was known.
    }
  }

  async #attempt(work: () => Promise<void>): Promise<boolean> {
    this.busy = true;
    const done = await this.#notices.attempt(work);
    await this.#drawer.load();
    this.busy = false;
    return done;
  }

  /** Marks it as assembled, and writes a record; what speaks against it is asked about first. @param sure it was asked */
  async mark(sure = false): Promise<void> {
    const doubts = sure ? [] : doubtsAboutAssembling(this.#train, this.#unit());
    this.doubts = doubts;
    this.asked = doubts.length > 0;
    if (this.asked) return;
    const id = (this.#recordId ??= crypto.randomUUID());
    await this.#hold({ id, note: this.note.trim() }, 'The record is in the log.');
  }

  /** @param record none where it was assembled a moment ago, and has its record */
  async #hold(record: { id: string; note: string } | undefined, further: string): Promise<void> {
    await this.#attempt(async () => {
      const revision = await this.#train.settleSaves();
      if (revision === undefined) return this.#notices.complain('Wait until the train is saved, then finish it.');
      const reply = await assemble(this.#train.id, revision, record);
      if (reply.kind === 'assembled') {
        this.current = reply.assembly;
        this.#recordId = undefined;
        this.note = '';
        const count = reply.assembly.holdings.length;
        const parts = `${count} ${count === 1 ? 'part' : 'parts'}`;
        this.#notices.say(`Marked as assembled; it holds ${parts} of the drawer. ${further}`, {
          label: 'Undo',
          run: () => void this.apart()
        });
      } else if (reply.conflicts.length === 0) this.#notices.complain(reply.message);
      else {
        this.conflicts = reply.conflicts;
        this.refused = true;
      }
    });
  }

  apart = (): Promise<boolean> =>
    this.#attempt(async () => {
      await takeApart(this.#train.id);
      this.current = null;
      this.#notices.say('Taken apart; its parts are free again.', {
        label: 'Undo',
        run: () => void this.#hold(undefined, 'Nothing has changed.')
      });
    });
}

const KEY = Symbol('assembled');
export const provideAssembled = (assembled: Assembled): Assembled => setContext(KEY, assembled);
export const useAssembled = (): Assembled => getContext<Assembled>(KEY);
