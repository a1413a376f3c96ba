import { TRAIN, type Night } from '@lodestone/core/train';
import { filterNames, nightsOf, type ArrivedNight, type NightOf } from '@lodestone/core/nights';
import { parseNumber } from '$lib/ui/parse.ts';
import { thisEvening } from '$lib/ui/time.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';

/** Figures of the form, as they are typed. */
export const FIGURES = [
  ['guideRmsArcsec', 'Guiding RMS', '″'],
  ['seeingArcsec', 'Seeing', '″'],
  ['hfrPx', 'HFR', 'px'],
  ['temperatureC', 'Temperature', '°C']
] as const;
type Figure = (typeof FIGURES)[number][0];

/** A night as it is written down: typed in any order, kept with the train, corrected later. */
export class NightForm {
  readonly #train: TrainSession;
  /** Id of the night that is corrected; undefined for a new one. */
  editing = $state.raw<string>();
  on = $state('');
  figures = $state<Record<Figure, string>>({ guideRmsArcsec: '', seeingArcsec: '', hfrPx: '', temperatureC: '' });
  /** Hours by filter, as they are typed. */
  hours = $state<Record<string, string>>({});
  balance = $state('');
  wrong = $state('');
  note = $state('');
  message = $state.raw<string>();

  constructor(train: TrainSession) {
    this.#train = train;
    this.on = thisEvening();
  }

  /** Takes in what frames say of their night; what is typed already stays. */
  fill({ on, hours, hfrPx, temperatureC }: ArrivedNight): void {
    this.on = on;
    for (const [filter, each] of Object.entries(hours)) {
      if (!this.hours[filter]?.trim()) this.hours[filter] = String(Number(each.toFixed(2)));
    }
    for (const [key, each] of [
      ['hfrPx', hfrPx],
      ['temperatureC', temperatureC]
    ] as const) {
      if (each !== undefined && this.figures[key].trim() === '') this.figures[key] = String(each);
    }
  }

  /** Filters of the train by name; one without any has one line all the same. */
  readonly filters: readonly string[] = $derived.by(() => {
    const names = filterNames(this.#train.document);
    const all = names.length === 0 ? ['No filter'] : names;
    // What a frame called it has a line of its own.
    return [...all, ...Object.keys(this.hours).filter((each) => !all.includes(each))];
  });

  readonly nights: readonly NightOf[] = $derived.by(() => nightsOf(this.#train.document));

  clear(): void {
    this.editing = undefined;
    this.figures = { guideRmsArcsec: '', seeingArcsec: '', hfrPx: '', temperatureC: '' };
    this.hours = {};
    this.balance = this.wrong = this.note = '';
    this.message = undefined;
  }

  /** Takes a night into the form, to be corrected. */
  edit({ id, on, hours = {}, balance = '', wrong = '', note = '', ...figures }: NightOf): void {
    this.clear();
    this.editing = id;
    this.on = on;
    this.hours = Object.fromEntries(Object.entries(hours).map(([filter, each]) => [filter, String(each)]));
    for (const [key] of FIGURES) this.figures[key] = figures[key] === undefined ? '' : String(figures[key]);
    this.balance = balance;
    this.wrong = wrong;
    this.note = note;
  }

  /** What is typed as a night, or why it is none. */
  #typed(): Night | string {
    const night: Night = { on: this.on };
    for (const [key, label] of FIGURES) {
      const read = parseNumber(this.figures[key], undefined);
      if (!read.ok) return `${label}: ${read.message}`;
      if (read.parsed !== undefined) night[key] = read.parsed;
    }
    const hours: Record<string, number> = {};
    for (const [filter, text] of Object.entries(this.hours)) {
      const read = parseNumber(text, undefined);
      if (!read.ok) return `${filter}: ${read.message}`;
      if (read.parsed !== undefined && read.parsed !== 0) hours[filter] = read.parsed;
    }
    if (Object.keys(hours).length > 0) night.hours = hours;
    if (this.balance.trim() !== '') night.balance = this.balance.trim();
    if (this.wrong.trim() !== '') night.wrong = this.wrong.trim();
    if (this.note.trim() !== '') night.note = this.note.trim();
    return night;
  }

  /** Keeps the night. @returns whether it was kept; `message` says why not */
  keep(): boolean {
    const night = this.#typed();
    if (typeof night === 'string') {
      this.message = night;
      return false;
    }
    if (Object.keys(night).length === 1) {
      this.message = 'Type at least one figure, or what was wrong.';
      return false;
    }
    const id = this.editing ?? `n-${crypto.randomUUID().slice(0, 8)}`;
    this.message = this.#train.dispatch(
      { op: 'set', at: TRAIN, path: ['nights', id], to: night },
      this.editing === undefined ? 'Keep a night' : 'Correct a night'
    );
    if (this.message !== undefined) return false;
    this.clear();
    return true;
  }

  remove = (id: string): string | undefined => {
    if (this.editing === id) this.clear();
    return this.#train.dispatch({ op: 'set', at: TRAIN, path: ['nights', id], to: undefined }, 'Remove a night');
  };
}
