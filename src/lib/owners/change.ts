import type { Account } from '$lib/api/owners.ts';

/** What each part of the account is given. */
export interface SectionProps {
  account: Account;
  /** Does something, shows how things are then, and says so. @returns whether it was done */
  change: (work: () => Promise<unknown>, words?: string) => Promise<boolean>;
}
