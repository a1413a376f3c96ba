const SEEN_AS = 'lodestone.owner';

/** Whose this page is; everybody’s where one person uses the server. */
let owner: string | undefined;

/**
 * Says whose page this is, before anything is kept or heard. What a tab remembers of somebody else (drafts, steps back)
 * is not shown to whoever comes next.
 */
export function beginAs(whose: string | undefined): void {
  owner = whose;
  if (whose === undefined) return;
  try {
    const before = sessionStorage.getItem(SEEN_AS);
    if (before !== null && before !== whose) sessionStorage.clear();
    sessionStorage.setItem(SEEN_AS, whose);
  } catch {
    // No room, or none allowed: then nothing was remembered either.
  }
}

/** A name in this browser that is this owner’s alone: of its database, its locks, its channels. */
export const whose = (name: string): string => (owner === undefined ? name : `${name} ${owner}`);
