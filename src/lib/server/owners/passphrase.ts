import { hash, verify } from '@node-rs/argon2';
import { ZxcvbnFactory } from '@zxcvbn-ts/core';
import * as common from '@zxcvbn-ts/language-common';
import { LEAST_PASSPHRASE, LONGEST_PASSPHRASE } from '$lib/api/owners.ts';
import { Gate } from '../gate.ts';

/** OWASP Password Storage Cheat Sheet, Argon2id (the package’s own choice): 19 MiB, two passes, one lane. */
const COST = { memoryCost: 19_456, timeCost: 2, parallelism: 1 } as const;

/** Each takes a core and its memory for as long as it runs. */
const hashing = new Gate('sign-ins', { atOnce: 2, waiting: 50 });

/** One passphrase is the same however a keyboard writes its letters (NIST SP 800-63B, §5.1.1.2). */
const plain = (passphrase: string): string => passphrase.normalize('NFKC');

export const hashPassphrase = (passphrase: string): Promise<string> => hashing.run(() => hash(plain(passphrase), COST));

let nobodys: Promise<string> | undefined;

/**
 * Whether a passphrase is the one that was hashed. Without a hash it takes as long, and is not: who asks does not learn
 * whether there is such a name.
 *
 * @param hashed PHC string
 */
export async function isPassphrase(hashed: string | null | undefined, passphrase: string): Promise<boolean> {
  nobodys ??= hashPassphrase('nobody’s passphrase');
  const against = hashed ?? (await nobodys);
  const fits = await hashing.run(() => verify(against, plain(passphrase)));
  return fits && typeof hashed === 'string';
}

/** Of 0 to 4: guessed in fewer than ten thousand million tries (zxcvbn, “score”) is too few. */
const LEAST_SCORE = 3;

let guesser: ZxcvbnFactory | undefined;

/** Why a passphrase is none; undefined where it is one. @param about words that whoever guesses tries first, as the name */
export function weakness(passphrase: string, about: readonly string[]): string | undefined {
  const letters = [...plain(passphrase)].length;
  if (letters < LEAST_PASSPHRASE) {
    return `A passphrase has at least ${LEAST_PASSPHRASE} characters; this one has ${letters}. Four or five words do well.`;
  }
  if (letters > LONGEST_PASSPHRASE) return `A passphrase has at most ${LONGEST_PASSPHRASE} characters.`;
  guesser ??= new ZxcvbnFactory({ dictionary: common.dictionary, graphs: common.adjacencyGraphs });
  const { score } = guesser.check(plain(passphrase), [...about]);
  return score >= LEAST_SCORE
    ? undefined
    : 'This passphrase is among the first that are guessed. Take words that do not belong together.';
}
