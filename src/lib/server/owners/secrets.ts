import { createHash, randomBytes } from 'node:crypto';

/** So much is guessed by nobody: 256 bits. */
const SECRET_BYTES = 32;
const SECRET = /^[\w-]{43}$/;

/** What somebody shows, and what is kept of it. */
export function makeSecret(): { secret: string; hash: Buffer } {
  const secret = randomBytes(SECRET_BYTES).toString('base64url');
  return { secret, hash: hashOf(secret) };
}

export const isSecret = (candidate: string): boolean => SECRET.test(candidate);

/** @returns SHA-256: what is random needs no slower one */
export const hashOf = (secret: string): Buffer => createHash('sha256').update(secret).digest();
