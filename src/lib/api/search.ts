/** Something of the owner's that words lead to. */
export interface Found {
  what: 'train' | 'part' | 'record' | 'night';
  /** What it is called. */
  title: string;
  /** What tells it from others of that name. */
  beside: string;
  /** Page it is on. */
  href: string;
}

/** Of each kind as many are named. */
export const MOST_FOUND = 6;
export const LONGEST_QUERY = 100;
