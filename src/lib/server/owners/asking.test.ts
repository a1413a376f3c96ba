import { describe, expect, it } from 'vitest';
import { isOpen, isWithin } from './asking.ts';

describe('a token', () => {
  it.each([
    ['read', 'GET', '/api/trains', true],
    ['read', 'GET', '/metrics', true],
    ['read', 'POST', '/api/trains', false],
    ['read', 'POST', '/api/trains/a/frames', false],
    ['frames', 'POST', '/api/trains/a/frames', true],
    ['frames', 'DELETE', '/api/trains/a/frames/b', false],
    ['frames', 'POST', '/api/trains/a/framesets', false],
    ['frames', 'POST', '/api/trains/a/revisions', false],
    ['write', 'POST', '/api/trains', true],
    ['write', 'DELETE', '/api/trains/a/frames/b', true],
    ['write', 'GET', '/api/account', false],
    ['write', 'POST', '/api/account/tokens', false],
    ['write', 'PATCH', '/api/owners/local', false],
    ['write', 'GET', '/account', false],
    ['write', 'POST', '/api/sign-out', false]
  ] as const)('for “%s” may %s %s: %s', (scope, method, path, may) => expect(isWithin(scope, method, path)).toBe(may));
});

describe('without signing in', () => {
  it.each(['/sign-in', '/sign-in/__data.json', '/join', '/shell', '/healthz', '/api/sign-in/passkey', '/shared/x'])(
    '%s answers',
    (path) => expect(isOpen(path)).toBe(true)
  );
  it.each([
    '/',
    '/api/trains',
    '/api/account',
    '/metrics',
    '/drawer',
    '/shared/x/y',
    '/joined',
    '/api/joinery',
    '/sign-in/x'
  ])('%s does not', (path) => expect(isOpen(path)).toBe(false));
});
