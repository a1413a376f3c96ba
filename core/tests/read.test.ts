import fc from 'fast-check';
import { readFileSync } from 'node:fs';
import { describe, expect, it } from 'vitest';
import { checkDocument, checkTrain } from '../src/check/index.ts';
import { duplicateKey, readTrain, readTrainText, upgrade, type Complaint } from '../src/train/index.ts';
import { writeTrain } from '../src/train/write.ts';
import { anyTrain } from './trains.ts';

type Json = Record<string, unknown>;
const heronText = readFileSync(new URL('../../demo/heron.json', import.meta.url), 'utf8');
const heron = () => JSON.parse(heronText) as { host: Json; elements: Json[] } & Json;

const complaints = (candidate: unknown): Complaint[] => {
  const reading = readTrain(candidate);
  return reading.ok ? [] : reading.complaints;
};
const pointers = (candidate: unknown) => complaints(candidate).map(({ pointer }) => pointer);

/** Ways to spoil a good document, written from its description alone; each names the place it spoils. */
const mutations: Record<string, [(doc: ReturnType<typeof heron>) => unknown, string]> = {
  'not an object': [() => [], ''],
  null: [() => null, ''],
  'no tag': [({ lodestone: _, ...rest }) => rest, ''],
  'another tag': [(doc) => ({ ...doc, lodestone: 'train/2' }), '/lodestone'],
  'no name': [({ name: _, ...rest }) => rest, ''],
  'empty name': [(doc) => ({ ...doc, name: '' }), '/name'],
  'name is a number': [(doc) => ({ ...doc, name: 7 }), '/name'],
  'name of a megabyte': [(doc) => ({ ...doc, name: 'x'.repeat(1e6) }), '/name'],
  'unknown key': [(doc) => ({ ...doc, colour: 'red' }), '/colour'],
  'prototype key': [(doc) => JSON.parse(`{"__proto__":{"a":1},${JSON.stringify(doc).slice(1)}`), '/__proto__'],
  'constructor key': [(doc) => ({ ...doc, constructor: {} }), '/constructor'],
  'no host': [({ host: _, ...rest }) => rest, ''],
  'host without camera face': [({ host: { camera: _, ...host }, ...doc }) => ({ ...doc, host }), '/host'],
  'host of unknown kind': [(doc) => ((doc.host.kind = 'binoculars'), doc), '/host/kind'],
  'a pupil at the focus': [(doc) => ((doc.host.exitPupilMm = 0), doc), '/host/exitPupilMm'],
  'aperture of zero': [(doc) => ((doc.host.apertureMm = 0), doc), '/host/apertureMm'],
  'focal length as text': [(doc) => ((doc.host.focalLengthMm = '805'), doc), '/host/focalLengthMm'],
  'two ports in one': [
    (doc) => ((doc.host.camera = { thread: 'M63x1', slip: '2in', gender: 'male' }), doc),
    '/host/camera'
  ],
  'thread of unknown gender': [
    (doc) => ((doc.host.camera = { thread: 'M63x1', gender: 'both' }), doc),
    '/host/camera/gender'
  ],
  'unknown glass rule': [(doc) => ({ ...doc, glassRule: 'half' }), '/glassRule'],
  'no elements': [(doc) => ({ ...doc, elements: [] }), '/elements'],
  'elements is an object': [(doc) => ({ ...doc, elements: {} }), '/elements'],
  'element is text': [(doc) => ((doc.elements[2] = 'guider' as never), doc), '/elements/2'],
  'element without id': [(doc) => (delete doc.elements[2]!.id, doc), '/elements/2'],
  'element without length': [(doc) => (delete doc.elements[3]!.lengthMm, doc), '/elements/3'],
  'element without name': [(doc) => (delete doc.elements[3]!.name, doc), '/elements/3'],
  'unknown kind': [(doc) => ((doc.elements[2]!.kind = 'eyepiece'), doc), '/elements/2'],
  'negative length': [(doc) => ((doc.elements[2]!.lengthMm = -1), doc), '/elements/2/lengthMm'],
  'length over 10 m': [(doc) => ((doc.elements[2]!.lengthMm = 10_001), doc), '/elements/2/lengthMm'],
  'length too large for a number': [
    (doc) => JSON.parse(JSON.stringify(doc).replace('"lengthMm":17.2', '"lengthMm":1e999')),
    '/elements/2/lengthMm'
  ],
  'length null': [(doc) => ((doc.elements[2]!.lengthMm = null), doc), '/elements/2/lengthMm'],
  'length a list': [(doc) => ((doc.elements[2]!.lengthMm = [17.2]), doc), '/elements/2/lengthMm'],
  'duplicate ids': [(doc) => ((doc.elements[3]!.id = 'guider'), doc), '/elements/3/id'],
  'id of the host': [(doc) => ((doc.elements[3]!.id = 'host'), doc), '/elements/3/id'],
  'no camera': [(doc) => ({ ...doc, elements: doc.elements.slice(0, -1) }), '/elements'],
  'camera not last': [
    (doc) => ({ ...doc, elements: [...doc.elements.slice(0, 3), doc.elements[4], doc.elements[3]] }),
    '/elements/3'
  ],
  'two cameras': [
    (doc) => ({
      ...doc,
      elements: [...doc.elements.slice(0, 4), { ...doc.elements[4], id: 'second' }, doc.elements[4]]
    }),
    '/elements/4'
  ],
  'two correctors': [(doc) => ((doc.elements[2]!.corrector = { backFocusMm: 55 }), doc), '/elements/2/corrector'],
  'corrector that states nothing': [(doc) => ((doc.elements[0]!.corrector = {}), doc), '/elements/0/corrector'],
  'corrector that states two': [
    (doc) => ((doc.elements[0]!.corrector = { backFocusMm: 55, free: true }), doc),
    '/elements/0/corrector/free'
  ],
  'range of one': [(doc) => ((doc.elements[0]!.corrector = { rangeMm: [60] }), doc), '/elements/0/corrector/rangeMm'],
  'range backwards': [
    (doc) => ((doc.elements[0]!.corrector = { rangeMm: [75, 60] }), doc),
    '/elements/0/corrector/rangeMm'
  ],
  'free: false': [(doc) => ((doc.elements[0]!.corrector = { free: false }), doc), '/elements/0/corrector/free'],
  'datum of no school': [
    (doc) => ((doc.elements[0]!.corrector = { backFocusMm: 55, datum: 'middle' }), doc),
    '/elements/0/corrector/datum'
  ],
  'table row for no host': [
    (doc) => ((doc.elements[0]!.corrector = { byHost: [{ backFocusMm: 55 }] }), doc),
    '/elements/0/corrector/byHost/0'
  ],
  'gap with a length': [(doc) => ((doc.elements[1]!.lengthMm = 4), doc), '/elements/1/lengthMm'],
  'gap with a port': [(doc) => ((doc.elements[1]!.sky = { slip: '2in', gender: 'male' }), doc), '/elements/1/sky'],
  'gap smaller than nothing': [(doc) => ((doc.elements[1]!.minMm = 30), doc), '/elements/1/maxMm'],
  'shim with a port': [
    (doc) => (
      (doc.elements[1] = { id: 's', kind: 'shim', name: 's', lengthMm: 1, sky: { slip: '2in', gender: 'male' } }),
      doc
    ),
    '/elements/1/sky'
  ],
  'camera with a camera face': [
    (doc) => ((doc.elements[4]!.camera = { slip: '2in', gender: 'male' }), doc),
    '/elements/4/camera'
  ],
  'dial beyond its range': [
    (doc) => ((doc.elements[3]!.adjust = { minMm: 0, maxMm: 5, setMm: 6 }), doc),
    '/elements/3/adjust/setMm'
  ],
  'dial backwards': [
    (doc) => ((doc.elements[3]!.adjust = { minMm: 5, maxMm: 0, setMm: 3 }), doc),
    '/elements/3/adjust/maxMm'
  ],
  'glass of unknown name': [
    (doc) => ((doc.elements[3]!.glass = [{ slot: 1, thicknessMm: 2, glass: 'window' }]), doc),
    '/elements/3/glass/0/glass'
  ],
  'glass with index and name': [
    (doc) => ((doc.elements[3]!.glass = [{ slot: 1, thicknessMm: 2, glass: 'N-BK7', index: 1.5 }]), doc),
    '/elements/3/glass/0/glass'
  ],
  'design slot without glass': [(doc) => ((doc.elements[3]!.designSlot = 8), doc), '/elements/3/designSlot'],
  'NUL in a name': [(doc) => ((doc.elements[3]!.name = 'a\0b'), doc), '/elements/3/name'],
  'half a surrogate pair': [(doc) => ((doc.elements[3]!.name = '\ud800'), doc), '/elements/3/name'],
  'three hundred elements': [
    (doc) => ({ ...doc, elements: Array.from({ length: 300 }, (_, i) => ({ ...doc.elements[2], id: `e${i}` })) }),
    '/elements'
  ]
};

describe('documents that are not trains', () => {
  it.each(Object.entries(mutations).map(([name, [spoil, at]]) => ({ name, spoil, at })))('$name', ({ spoil, at }) => {
    const spoiled = spoil(heron());
    expect(pointers(spoiled)).toContain(at);
    for (const complaint of complaints(spoiled)) {
      expect(complaint.message).toMatch(/\S/);
      expect(complaint.place.length + complaint.message.length).toBeLessThan(600);
    }
    expect(checkDocument(spoiled).ok).toBe(false);
  });

  it('reports only the kind of port that was meant', () => {
    const doc = heron();
    doc.elements[2]!.sky = { thread: 'M63x1', gender: 'female', lengthMm: -5 };
    expect(complaints(doc)).toEqual([
      {
        pointer: '/elements/2/sky/lengthMm',
        place: 'element 3 “Fenlark off-axis guider”, sky face, length',
        message: 'must be at least 0, but is -5'
      }
    ]);
  });

  it('is not stopped by nesting a thousand deep', () => {
    let deep: unknown = 1;
    for (let level = 0; level < 1000; level++) deep = { host: deep };
    expect(complaints(deep)[0]?.message).toContain('nested');
  });
});

describe('text that is not a train', () => {
  const first = (text: string) => {
    const reading = readTrainText(text);
    return reading.ok ? undefined : reading.complaints[0];
  };

  it.each([
    ['nothing at all', '', 'is empty'],
    ['white space', ' \n ', 'is empty'],
    ['a trailing comma', '{\n  "name": "x",\n}', 'line 3, column 1'],
    ['cut off', heronText.slice(0, 400), 'is not valid JSON'],
    ['HTML', '<!doctype html>', 'line 1, column 1'],
    ['five megabytes', `"${'x'.repeat(5e6)}"`, 'too large'],
    ['brackets without end', '['.repeat(200_000), 'nested']
  ])('%s', (_name, text, words) => {
    expect(first(text)?.message).toContain(words);
  });

  it('of thousands of faults a hundred are told, each with its line, and how many more there are', () => {
    const document = heron();
    for (let key = 0; key < 4000; key++) document.elements[0]![`key${key}`] = key;
    const text = JSON.stringify(document, null, 1);
    const reading = readTrainText(text);
    const told = reading.ok ? [] : reading.complaints;
    expect(told).toHaveLength(101);
    const lines = text.split('\n');
    for (const { pointer, line } of told.slice(0, 100)) {
      expect(lines[line! - 1]).toContain(`"${pointer.split('/').at(-1)}"`);
    }
    expect(told.at(-1)!.message).toBe('has 3900 more things wrong');
  });

  it('a key that stands twice is refused where it stands the second time', () => {
    const text = '{"lodestone": "train/1",\n"host": {"name": "One",\n"name": "Other"}}';
    expect(readTrainText(text)).toEqual({
      ok: false,
      complaints: [
        { pointer: '/host/name', place: 'host → name', message: expect.stringContaining('twice') as string, line: 3 }
      ]
    });
    // Spelled otherwise, or looking like one inside a text.
    expect(duplicateKey('{"a\\u0062": 1, "ab": 2}')?.pointer).toBe('/ab');
    expect(duplicateKey('[{"y": 1}, {"y": "\\"y\\": "}, {"z": ["y", "y"]}]')).toBeUndefined();
    expect(duplicateKey('{"a\\\\": 1, "a": 2}')).toBeUndefined();
  });

  it.each([
    ['blanks', '   ', 'must not be blank'],
    ['an escape', 'Heron\u001b[31m', 'contains a control character (U+001B)'],
    ['a bell', '\u0007', 'contains a control character (U+0007)'],
    ['a delete', 'He\u007fron', 'contains a control character (U+007F)']
  ])('a name of %s is refused', (_, name, message) => {
    const reading = readTrainText(JSON.stringify({ ...heron(), name }));
    expect(reading).toMatchObject({ ok: false, complaints: [{ pointer: '/name', message }] });
    // What was stored before is read, without what it may not have.
    const stored = readTrain(upgrade({ ...heron(), name }));
    if (!stored.ok) throw new Error('a stored train was lost');
    expect(stored.document.name).not.toBe('');
  });

  it('names the line of a wrong value', () => {
    const text = heronText.replace('"lengthMm": 21.6', '"lengthMm": "21.6"');
    const line = text.split('\n').findIndex((each) => each.includes('"21.6"')) + 1;
    expect(first(text)).toMatchObject({ pointer: '/elements/3/lengthMm', line });
  });

  it('a byte order mark is no reason to refuse', () => {
    expect(readTrainText(`\uFEFF${heronText}`).ok).toBe(true);
  });
});

describe('documents that are trains', () => {
  it('are accepted, checked without throwing, and survive being written', () => {
    fc.assert(
      fc.property(anyTrain, (made) => {
        expect(complaints(made)).toEqual([]);
        expect(() => checkTrain(made)).not.toThrow();
        const reading = readTrainText(writeTrain(made));
        expect(reading.ok && reading.document).toEqual(made);
      })
    );
  });

  it('a valid train with any one key renamed is refused', () => {
    fc.assert(
      fc.property(anyTrain, fc.nat(), (made, pick) => {
        const holders: Json[] = [];
        JSON.stringify(made, (_key, node: unknown) => {
          if (node && typeof node === 'object' && !Array.isArray(node)) holders.push(node as Json);
          return node;
        });
        const spoiled = structuredClone(made);
        const copies: Json[] = [];
        JSON.stringify(spoiled, (_key, node: unknown) => {
          if (node && typeof node === 'object' && !Array.isArray(node)) copies.push(node as Json);
          return node;
        });
        const holder = copies[pick % holders.length]!;
        const key = Object.keys(holder)[pick % Object.keys(holder).length]!;
        holder[`${key}_`] = holder[key];
        Reflect.deleteProperty(holder, key);
        expect(checkDocument(spoiled).ok).toBe(false);
      })
    );
  });

  it('are written with keys in the order of the format', () => {
    const backwards = (record: object) => Object.fromEntries(Object.entries(record).reverse());
    const train = heron();
    // Also what stands under keys that its author chose.
    const nights = Object.fromEntries(
      Object.entries(train.nights as Record<string, object>).map(([id, night]) => [id, backwards(night)])
    );
    const shuffled = backwards({ ...train, nights, elements: (train.elements as object[]).map(backwards) });
    const reading = readTrain(shuffled);
    expect(reading.ok && JSON.stringify(JSON.parse(writeTrain(reading.document)))).toBe(JSON.stringify(heron()));
  });
});
