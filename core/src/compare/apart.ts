import { fieldWords, valueInWords } from '../train/complain.ts';
import { isRecord } from '../train/isRecord.ts';
import { movedBetween } from '../train/merge.ts';
import { HOST, type Train } from '../train/model.ts';
import { TRAIN, apply, type Operation } from '../train/operations.ts';
import { differingKeys } from '../train/sameJson.ts';
import { formatLength, type LengthUnit } from '../why/wording.ts';

/** One thing in which two versions of a train differ: it can be taken from either, whatever is taken of the others. */
export interface RowApart {
  id: string;
  /** Whose it is: a part, the telescope, or the train. */
  name: string;
  /** Which of its fields; undefined where the part as a whole is meant. */
  field: string | undefined;
  /** What it is in the one and in the other, for a person. */
  first: string;
  second: string;
  /** Makes it as it is in the second. */
  operation: Operation;
}

type Keyed = Readonly<Record<string, unknown>>;
interface Leaf {
  path: [string, ...string[]];
  first: unknown;
  second: unknown;
}

/** Keys that are told otherwise, or say nothing. */
const OF_TRAIN = new Set(['elements', 'host', 'lodestone']);
/** Keys of one value that are told. */
const MOST_WORDS = 4;
const NONE: ReadonlySet<string> = new Set();

const sameKeys = (a: Keyed, b: Keyed): boolean => Object.keys(a).sort().join() === Object.keys(b).sort().join();

/** The smallest things in which two objects differ. Lists are whole, and so is what is stated in another way. */
function leaves(first: Keyed, second: Keyed, but: ReadonlySet<string>, path: string[] = []): Leaf[] {
  return differingKeys(first, second, but).flatMap((key): Leaf[] => {
    const [a, b] = [first[key], second[key]];
    const steps: Leaf['path'] = [path[0] ?? key, ...path.slice(1), ...(path.length > 0 ? [key] : [])];
    return isRecord(a) && isRecord(b) && sameKeys(a, b)
      ? leaves(a, b, NONE, steps)
      : [{ path: steps, first: a, second: b }];
  });
}

function inWords(key: string, value: unknown, unit: LengthUnit): string {
  if (typeof value === 'number' && key.endsWith('Mm')) return formatLength(value, unit);
  if (Array.isArray(value)) return value.length === 1 ? '1 entry' : `${value.length} entries`;
  if (!isRecord(value)) return valueInWords(value)!;
  const words = Object.entries(value).map(([inner, each]) => `${fieldWords([inner])} ${inWords(inner, each, unit)}`);
  return words.length > MOST_WORDS ? `${words.slice(0, MOST_WORDS).join(', ')} …` : words.join(', ');
}

/** What two sides say: where both read the same, they are told apart at least. */
const told = (a: string, b: string): Pick<RowApart, 'first' | 'second'> =>
  a === b ? { first: a, second: `${b}, changed` } : { first: a, second: b };

const fieldRows = (
  { at, name, but }: { at: string; name: string; but: ReadonlySet<string> },
  first: object,
  second: object,
  unit: LengthUnit
): RowApart[] =>
  leaves(first as Keyed, second as Keyed, but).map(({ path, first: a, second: b }) => {
    const key = path.at(-1)!;
    return {
      id: `${at}/${path.join('/')}`,
      name,
      field: fieldWords(path),
      ...told(inWords(key, a, unit), inWords(key, b, unit)),
      operation: { op: 'set', at, path, to: b }
    };
  });

/**
 * In what two versions of a train differ, in the order of the train.
 *
 * @param first the version that stands; carrying out any of the operations on it, in this order, takes that from `second`,
 * and all of them make `second`
 */
export function rowsApart(first: Train, second: Train, unit: LengthUnit): RowApart[] {
  const had = new Map(first.elements.map((element) => [element.id, element]));
  const has = new Set(second.elements.map(({ id }) => id));
  const moved = movedBetween(first, second);
  /** The next one toward the camera that stands in both, at the same place. */
  const before = (index: number): string | null =>
    second.elements.slice(index + 1).find(({ id }) => had.has(id) && !moved.has(id))?.id ?? null;
  const whole = { field: undefined };
  return [
    ...fieldRows({ at: HOST, name: first.host.name, but: NONE }, first.host, second.host, unit),
    ...first.elements
      .filter(({ id }) => !has.has(id))
      .map(({ id, name }): RowApart => ({
        ...{ id, name, ...whole, first: 'in the train', second: 'removed' },
        operation: { op: 'remove', id }
      })),
    ...second.elements.flatMap((element, index): RowApart[] => {
      const { id, name } = element;
      const there = had.get(id);
      if (!there) {
        const operation: Operation = { op: 'insert', element, before: before(index) };
        return [{ id, name, ...whole, first: 'not in the train', second: 'put in', operation }];
      }
      const place: RowApart[] = moved.has(id)
        ? [
            {
              ...{
                id: `${id}/place`,
                name,
                field: 'place',
                first: neighbour(first, id),
                second: neighbour(second, id)
              },
              operation: { op: 'move', id, before: before(index) }
            }
          ]
        : [];
      if (there.kind !== element.kind) {
        const operation: Operation = { op: 'replace', id, element };
        return [
          ...place,
          { id, name: there.name, ...whole, first: 'as it was', second: `replaced by ${name}`, operation }
        ];
      }
      return [...place, ...fieldRows({ at: id, name: there.name, but: NONE }, there, element, unit)];
    }),
    ...fieldRows({ at: TRAIN, name: 'Train', but: OF_TRAIN }, first, second, unit)
  ];
}

/** Where an element stands: `after Guider`. */
function neighbour({ host, elements }: Train, id: string): string {
  const at = elements.findIndex((element) => element.id === id);
  return `after ${elements[at - 1]?.name ?? host.name}`;
}

/**
 * The first of two versions with some of what differs taken from the second; not validated.
 *
 * @param rows those that are taken, in the order of `rowsApart`
 * @throws OperationError where one of them rests on another that is not taken
 */
export const takenFrom = (first: Train, rows: readonly RowApart[]): Train =>
  rows.reduce((train, { operation }) => apply(train, operation), first);
