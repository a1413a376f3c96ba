import { describe, expect, it } from 'vitest';
import {
  BARE,
  answersOf,
  asShell,
  isOfDrawer,
  isOfFrame,
  isPage,
  isWorthKeeping,
  keyOf,
  trainChangedAt
} from './rules.ts';

const at = (path: string): URL => new URL(path, 'http://here');

describe('what works without the server', () => {
  it.each(['/', '/drawer/R-03', '/trains/a-b/check', '/guide', '/compare?of=train:a', '/season', '/settings'])(
    '%s is a page',
    (path) => expect(isPage(at(path))).toBe(true)
  );
  it.each([
    '/api/trains',
    '/shared/secret',
    '/shell',
    '/healthz',
    '/train.schema.json',
    '/sign-in',
    '/mark.svg',
    '/_app/immutable/entry/app.js'
  ])('%s is none', (path) => expect(isPage(at(path))).toBe(false));

  it('keeps one answer for all stages of a train, and for all pages that ask for nothing', () => {
    const build = '/trains/a-b/build/__data.json';
    for (const path of ['/trains/a-b', '/trains/a-b/log', '/trains/a-b/first-light?layer=light', build]) {
      expect(keyOf(at(path))).toBe(build);
    }
    for (const path of ['/guide', '/drawer', '/drawer/R-03', '/measure', '/reach', '/drawer/__data.json']) {
      expect(keyOf(at(path))).toBe(BARE);
    }
    expect(keyOf(at('/'))).toBe('/__data.json');
    expect(keyOf(at('/__data.json?x-sveltekit-invalidated=11'))).toBe('/__data.json');
    // What is compared stands in the address.
    expect(keyOf(at('/compare/__data.json?of=train%3Aa&x-sveltekit-invalidated=01&of=train%3Ab'))).toBe(
      '/compare/__data.json?of=train%3Aa&of=train%3Ab'
    );
    expect(keyOf(at('/compare?of=train:a&of=train:b'))).toBe('/compare/__data.json?of=train%3Aa&of=train%3Ab');
  });

  it('knows what is asked for round a page alone', () => {
    expect(isOfFrame(at('/settings/__data.json?x-sveltekit-invalidated=1'))).toBe(true);
    expect(isOfFrame(at('/settings/__data.json?x-sveltekit-invalidated=11'))).toBe(false);
    expect(isOfFrame(at('/settings/__data.json'))).toBe(false);
  });

  it('keeps what pages read, and nothing large, of the moment, or a stream', () => {
    for (const path of [
      '/api/drawer',
      '/api/trains/a',
      '/api/trains/a/history/states?of=1',
      '/api/records/b/photos/0'
    ]) {
      expect(isWorthKeeping(at(path)), path).toBe(true);
    }
    for (const path of [
      '/api/events',
      '/api/backup',
      '/api/backups',
      '/api/search?q=x',
      '/api/trains/a/frames/b',
      '/api/room'
    ]) {
      expect(isWorthKeeping(at(path)), path).toBe(false);
    }
    for (const path of answersOf(at('/trains/a/log'))) expect(isWorthKeeping(at(path)), path).toBe(true);
  });

  it('knows what a request changes', () => {
    expect(trainChangedAt(at('/api/trains/a/revisions'))).toBe('a');
    expect(trainChangedAt(at('/api/trains/a'))).toBe('a');
    // A frame may have hundreds of megabytes: it goes past the worker.
    expect(trainChangedAt(at('/api/trains/a/frames'))).toBeUndefined();
    expect(trainChangedAt(at('/api/drawer/changes'))).toBeUndefined();
    expect(isOfDrawer(at('/api/drawer/changes'))).toBe(true);
  });
});

describe('the page that stands in for others', () => {
  const html = '<html lang="en" data-theme="dusk"><body></body></html>';
  it('has the theme of now, and says when its data was kept', () => {
    expect(asShell(html, 'night', '2026-12-01T20:00:00.000Z')).toBe(
      '<html lang="en" data-theme="night" data-shell="2026-12-01T20:00:00.000Z"><body>' +
        '<p id="waiting">Opening without the server …</p></body></html>'
    );
    expect(asShell(html, undefined, '')).toContain('data-theme="dusk" data-shell=""');
  });
  it('takes no word that would end its attribute', () => {
    expect(asShell(html, '"><script>', '"><script>')).toContain('data-theme="dusk" data-shell=""');
  });
});
