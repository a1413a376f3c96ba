import { afterEach, describe, expect, it, vi } from 'vitest';
import { Refused, Unreachable, ask, askFile } from '$lib/api/ask.ts';
import heron from '../../../demo/heron.json' with { type: 'json' };
import { changeState, createTrain, fetchTrain, listTrains, sendSave, type Save } from './transport.ts';

const stored = {
  id: 'heron',
  state: 'active',
  revision: { number: 3, hash: 'h', savedAt: '2026-11-24T00:00:00Z' },
  document: heron
};
const save = { saveId: 'a', basedOn: 2, document: heron } as unknown as Save;

/** What the server answers to everything, and what it was asked. */
function serverSays(status: number, body: unknown) {
  const asked = vi.fn((_path: string, _init?: RequestInit) =>
    Promise.resolve(new Response(typeof body === 'string' ? body : JSON.stringify(body), { status }))
  );
  vi.stubGlobal('fetch', asked);
  return asked;
}
afterEach(() => vi.unstubAllGlobals());

describe('a save', () => {
  it('is stored', async () => {
    const asked = serverSays(201, stored);
    expect(await sendSave('heron', save)).toMatchObject({ kind: 'stored', stored: { revision: { number: 3 } } });
    const [path, init] = asked.mock.calls[0]!;
    expect(path).toBe('/api/trains/heron/revisions');
    expect(JSON.parse(init!.body as string)).toEqual(save);
  });

  it('is stale: the head comes along', async () => {
    serverSays(409, { message: 'overtaken', head: stored });
    expect(await sendSave('heron', save)).toMatchObject({ kind: 'stale', theirs: { id: 'heron' } });
  });

  it('is refused for good, with the reason', async () => {
    serverSays(422, { message: '/elements/0/lengthMm is negative' });
    expect(await sendSave('heron', save)).toEqual({ kind: 'refused', message: '/elements/0/lengthMm is negative' });
    serverSays(400, {});
    expect(await sendSave('heron', save)).toMatchObject({ kind: 'refused' });
  });

  it.each([
    ['the server is not ready', 503, { message: 'no database' }],
    ['it is asked by a name it does not know', 403, { message: 'not by this name' }],
    ['there is too much at once', 429, {}],
    ['something else answered', 200, '<html>Sign in</html>'],
    ['another version answered', 201, { ...stored, revision: { number: '3' } }],
    ['its train is not one', 201, { ...stored, document: { ...heron, elements: [] } }],
    ['its state is not known', 201, { ...stored, state: 'lost' }],
    ['the head of a stale one is not a train', 409, { message: 'overtaken', head: null }]
  ])('is tried again where %s', async (_why, status, body) => {
    serverSays(status, body);
    expect(await sendSave('heron', save)).toMatchObject({ kind: 'later', why: 'away' });
  });

  it('is kept where somebody has to sign in, the train is deleted, or the server fails at it', async () => {
    serverSays(401, { message: 'Who are you?' });
    expect(await sendSave('heron', save)).toEqual({ kind: 'sign-in', message: 'Who are you?' });
    serverSays(410, { message: 'deleted' });
    expect(await sendSave('heron', save)).toMatchObject({ kind: 'later', why: 'blocked' });
    serverSays(500, { message: 'broke' });
    expect(await sendSave('heron', save)).toMatchObject({ kind: 'later', why: 'failing' });
  });

  it('is tried again where nobody answered', async () => {
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Failed to fetch')));
    expect(await sendSave('heron', save)).toMatchObject({
      kind: 'later',
      why: 'away',
      message: 'The server does not answer.'
    });
  });

  it('is given up waiting for after a while', async () => {
    vi.stubGlobal(
      'fetch',
      (_path: string, { signal }: RequestInit) =>
        new Promise((_answered, failed) => signal!.addEventListener('abort', () => failed(new Error('timed out'))))
    );
    await expect(ask('GET', '/api/trains', undefined, 10)).rejects.toThrow(Unreachable);
  });
});

describe('other requests', () => {
  it('read what is there', async () => {
    serverSays(200, [stored, stored]);
    expect(await listTrains()).toHaveLength(2);
    serverSays(200, stored);
    expect((await fetchTrain('heron')).document.name).toBe('Heron');
    expect((await changeState('heron', 'archived')).id).toBe('heron');
    expect((await createTrain('a', save.document)).revision.number).toBe(3);
  });

  it('say what was refused', async () => {
    serverSays(404, { message: 'There is no such train.' });
    await expect(fetchTrain('nobody')).rejects.toThrow(new Refused('There is no such train.'));
  });

  it('bring files, or the reason why there is none', async () => {
    serverSays(200, '%PDF');
    expect(await (await askFile('/api/sheet', {})).text()).toBe('%PDF');
    serverSays(400, { message: 'no parts' });
    await expect(askFile('/api/sheet', {})).rejects.toThrow(new Refused('no parts'));
    serverSays(502, '<html>');
    await expect(askFile('/api/sheet', {})).rejects.toThrow(Refused);
    vi.stubGlobal('fetch', () => Promise.reject(new TypeError('Failed to fetch')));
    await expect(askFile('/api/sheet', {})).rejects.toThrow(Unreachable);
  });
});
