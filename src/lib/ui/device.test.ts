import { beforeEach, describe, expect, it, vi } from 'vitest';
import { LONGEST_DEVICE_NAME, deviceName, nameDevice } from './device.ts';

const kept = new Map<string, string>();

/** Plays a device with a finger or a mouse, and a screen of some CSS px. */
function on(isCoarse: boolean, width: number, height: number): void {
  vi.stubGlobal('matchMedia', () => ({ matches: isCoarse }));
  vi.stubGlobal('screen', { width, height });
}

beforeEach(() => {
  kept.clear();
  vi.stubGlobal('localStorage', {
    getItem: (key: string) => kept.get(key) ?? null,
    setItem: (key: string, value: string) => kept.set(key, value),
    removeItem: (key: string) => kept.delete(key)
  });
  on(false, 1280, 800);
  return () => vi.unstubAllGlobals();
});

describe('the name of a device', () => {
  it.each([
    ['Computer', false, 1280, 800],
    ['Phone', true, 390, 844],
    ['Phone', true, 844, 390],
    ['Tablet', true, 820, 1180]
  ])('is %s where nobody gave one', (name, isCoarse, width, height) => {
    on(isCoarse, width, height);
    expect(deviceName()).toBe(name);
  });

  it('is what somebody typed, in one line that is short enough, until it is emptied', () => {
    expect(nameDevice('  Observatory\n ')).toBe('Observatory');
    expect(deviceName()).toBe('Observatory');
    expect(nameDevice('x'.repeat(200))).toHaveLength(LONGEST_DEVICE_NAME);
    expect(nameDevice(' \t ')).toBe('Computer');
  });
});
