/** Least and most characters of a passphrase (OWASP ASVS 4.0, 2.1.1 and 2.1.2). */
export const LEAST_PASSPHRASE = 12;
export const LONGEST_PASSPHRASE = 128;

export const LONGEST_NAME = 60;

/** What a token lets a script do: read; read and send frames; everything but what belongs to signing in. */
export const SCOPES = ['read', 'frames', 'write'] as const;
export type Scope = (typeof SCOPES)[number];

/** Days a token may hold. */
export const TOKEN_DAYS = [30, 90, 365] as const;

/** So much of each an owner has at the most. */
export const MOST_TOKENS = 50;
export const MOST_PASSKEYS = 20;

/** Who is signed in. */
export interface Who {
  owner: string;
  name: string;
  /** Invites others, and shuts them out. */
  keeps: boolean;
}

export interface Passkey {
  id: string;
  name: string;
  /** ISO 8601, as all of these. */
  madeAt: string;
  usedAt?: string;
}

export interface SignedIn {
  id: string;
  device?: string;
  madeAt: string;
  usedAt: string;
  expiresAt: string;
  /** The one that asks. */
  isThis: boolean;
}

export interface AccessToken {
  id: string;
  name: string;
  scope: Scope;
  madeAt: string;
  usedAt?: string;
  expiresAt?: string;
}

/** A token that was made just now: it is told this once. */
export interface MadeToken extends AccessToken {
  token: string;
}

/** Another owner, as a keeper sees them. */
export interface OtherOwner {
  owner: string;
  name: string;
  madeAt: string;
  closedAt?: string;
}

export interface Invitation {
  id: string;
  keeps: boolean;
  /** Whom it lets in again. */
  for?: string;
  expiresAt: string;
}

/** An invitation that was made just now: its address is told this once. */
export interface MadeInvitation extends Invitation {
  /** Path on this server. */
  path: string;
}

export interface Account extends Who {
  hasPassphrase: boolean;
  passkeys: Passkey[];
  sessions: SignedIn[];
  tokens: AccessToken[];
  /** For a keeper: everybody, and who is invited. */
  owners?: OtherOwner[];
  invitations?: Invitation[];
}

/** What a guest may do with a train: look at it, or change it too. */
export const GUEST_MAY = ['read', 'edit'] as const;
export type GuestMay = (typeof GUEST_MAY)[number];

/** Guests of one train at the most. */
export const MOST_GUESTS = 50;

/** Somebody a train is shared with. */
export interface Guest {
  guest: string;
  name: string;
  may: GuestMay;
  /** ISO 8601. */
  since: string;
}

/** A train of somebody else. */
export interface SharedTrain {
  id: string;
  name: string;
  /** Whose it is. */
  by: string;
  may: GuestMay;
  /** ISO 8601. */
  savedAt: string;
}
