import { readNotes, trainOfNotes } from '@lodestone/core/catalogue';
import { assess } from '@lodestone/core/check';
import { complaintInWords, readTrain, type Train } from '@lodestone/core/train';
import { OPEN_PLACE } from '$lib/train/starters.ts';
import { previewOf, type FirstTrain } from './firstTrain.ts';

const MISSING = { host: 'the telescope, as 115 f/7', camera: 'the camera, as cam 17.5' } as const;

/** With a place for what is still to be found, where the parts fall short: behind the corrector, or first of all. */
function withPlace(train: Train): Train {
  if (assess(train).report.verdict !== 'short') return train;
  const at = train.elements.findIndex((element) => 'corrector' in element) + 1;
  return { ...train, elements: train.elements.toSpliced(at, 0, { id: 'rings', kind: 'gap', name: OPEN_PLACE }) };
}

/** A train that somebody has written down, and what is made of it. */
export class Notes implements FirstTrain {
  text = $state('');
  name = $state('');

  readonly reading = $derived.by(() => readNotes(this.text));
  readonly pieces = $derived.by(() => this.reading.pieces);

  readonly #made = $derived.by(() => {
    const train = trainOfNotes(this.reading, this.name);
    return train && readTrain(withPlace(train));
  });

  readonly train = $derived.by((): Train | undefined => (this.#made?.ok ? this.#made.document : undefined));
  readonly preview = $derived.by(() => this.train && previewOf(this.train));

  readonly complaint = $derived.by((): string | undefined => {
    if (this.#made === undefined || this.#made.ok) return undefined;
    const [first] = this.#made.complaints;
    return first && complaintInWords(first);
  });

  readonly missing = $derived.by((): string | undefined => {
    const asked = this.pieces.filter((piece) => piece.is === 'question');
    const [first] = asked;
    if (first) return asked.length === 1 ? `an answer to “${first.text}”` : `answers to ${asked.length} pieces`;
    const [missing] = this.reading.missing;
    return missing && MISSING[missing];
  });
}
