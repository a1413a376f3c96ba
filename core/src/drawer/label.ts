/** Longest number of a part (its schema). */
const LONGEST = 100;

/**
 * Number of the part that a label's code names: an address of the drawer's, on whatever server the label was printed for,
 * or the number itself.
 *
 * @returns undefined where it is something else
 */
export function partIdOfLabel(text: string): string | undefined {
  const said = text.trim();
  const address = /^https?:\/\/[^/?#\s]+\/drawer\/([^/?#\s]+)(?:[?#]|$)/i.exec(said);
  let id: string;
  try {
    id = address ? decodeURIComponent(address[1]!) : said;
  } catch {
    return undefined;
  }
  const isAddress = !address && /^[a-z][a-z0-9+.-]*:/i.test(id);
  return isAddress || id === '' || id.length > LONGEST || /\p{Cc}/u.test(id) ? undefined : id;
}
