/** A link by which somebody else may look at a train. */
export interface ShareLink {
  id: string;
  /** ISO 8601. */
  madeAt: string;
  /** ISO 8601; absent where it holds until it is taken back. */
  expiresAt?: string;
}

/** A link that was made just now: its address is told this once. */
export interface MadeLink extends ShareLink {
  /** Path on this server. */
  path: string;
  /** The address as a QR code: rows of modules, dark ones `1`; for whoever is told the origin. */
  qr: string[];
}

/** Links of one train at the most. */
export const MOST_LINKS = 50;
/** Days a link may hold. */
export const LINK_DAYS = [1, 7, 30, 365] as const;
