import { describe, expect, it } from 'vitest';
import { readTrain, startedFrom } from '../src/train/index.ts';
import { readDemo } from './demo.ts';

describe('a train that is begun from another one', () => {
  const longTom = readDemo('long-tom.json');

  it('has its telescope and parts, and nothing of what happened with it', () => {
    const begun = startedFrom(longTom, [longTom.name]);
    expect(begun.elements).toEqual(longTom.elements);
    expect(begun.host).toEqual(longTom.host);
    for (const key of ['assembly', 'nights', 'tuning', 'focusing', 'flats', 'sag', 'packing']) {
      expect(begun).not.toHaveProperty(key);
    }
    expect(readTrain(begun).ok).toBe(true);
    // What the schema knows beside these is kept: a new key has to be thought of here.
    const gone = Object.keys(longTom).filter((key) => !(key in begun));
    expect(gone.every((key) => !['framing', 'note', 'tags', 'glassRule', 'groups'].includes(key))).toBe(true);
  });

  it('gets a name that none has yet', () => {
    expect(startedFrom(longTom, ['Long Tom', 'Long Tom 2']).name).toBe('Long Tom 3');
    expect(startedFrom({ ...longTom, name: 'Long Tom 2' }, ['Long Tom 2']).name).toBe('Long Tom 3');
    expect(startedFrom({ ...longTom, name: 'x'.repeat(200) }, []).name.length).toBeLessThanOrEqual(200);
  });
});
