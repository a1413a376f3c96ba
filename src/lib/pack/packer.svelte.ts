import { TRAIN, type Operation } from '@lodestone/core/train';
import { PACKING_TITLES, assemblySheet, packingList, stepState, type PackingGroup } from '@lodestone/core/assembly';
import type { LengthUnit } from '@lodestone/core/why';
import type { StoredTrain } from '$lib/api/trains.ts';
import type { Drawer } from '$lib/parts/drawer.svelte.ts';
import type { PageWays } from '$lib/sync/work.ts';
import { TrainSession } from '$lib/train/session.svelte.ts';

/** Ticked off at home, and again when everything goes back into the car. */
export type Round = 'packed' | 'leaving';

export type Item = ReturnType<typeof packingList>[number];

/** Longest thing that is written on a list by hand, letters. */
const LONGEST = 200;

const set = (path: [string, ...string[]], to: unknown): Operation => ({ op: 'set', at: TRAIN, path, to });

/** What comes along with one train. What is ticked is kept in the train itself: offline, and on the other device. */
export class Packer {
  readonly train: TrainSession;
  readonly #drawer: Drawer;
  readonly #unit: () => LengthUnit;

  /** @param page where it is kept and heard of, where that is not this page */
  constructor(stored: StoredTrain, drawer: Drawer, unit: () => LengthUnit, page?: PageWays) {
    this.train = new TrainSession(stored, page);
    this.#drawer = drawer;
    this.#unit = unit;
  }

  get name(): string {
    return this.train.document.name;
  }

  readonly #closed = $derived.by(() =>
    assemblySheet(this.train.document, this.#unit()).flatMap((step) =>
      step.joint !== null && stepState(this.train.document, step) === 'done' ? [step.joint] : []
    )
  );

  readonly items: readonly Item[] = $derived.by(() =>
    packingList(this.train.document, this.#drawer.plain, (joint) => this.#closed.includes(joint), this.#unit())
  );

  /** The list as it is read off, without groups of which there is nothing. */
  readonly groups = $derived.by(() =>
    (Object.keys(PACKING_TITLES) as PackingGroup[]).flatMap((group) => {
      const list = this.items.filter((item) => item.group === group);
      return list.length === 0 ? [] : [{ group, list }];
    })
  );

  isTicked(round: Round, key: string): boolean {
    return Object.hasOwn(this.train.document.packing?.[round] ?? {}, key);
  }

  left(round: Round): number {
    return this.items.filter(({ key }) => !this.isTicked(round, key)).length;
  }

  /** @returns why it was refused */
  tick(round: Round, key: string, on: boolean): string | undefined {
    return this.train.dispatch(set(['packing', round, key], on ? true : undefined), on ? 'Tick off' : 'Untick');
  }

  beginAgain(round: Round): string | undefined {
    return this.train.dispatch(set(['packing', round], undefined), 'Begin the list again');
  }

  /** Adds something by hand; what is there already, or is nothing, changes nothing. */
  add(text: string): string | undefined {
    const words = text.trim().slice(0, LONGEST);
    const caps = this.train.document.packing?.caps ?? [];
    if (words === '' || caps.includes(words)) return undefined;
    return this.train.dispatch(set(['packing', 'caps'], [...caps, words]), 'Add to the list');
  }

  drop(what: string): string | undefined {
    const caps = (this.train.document.packing?.caps ?? []).filter((each) => each !== what);
    return this.train.dispatch(set(['packing', 'caps'], caps.length === 0 ? undefined : caps), 'Take off the list');
  }
}
