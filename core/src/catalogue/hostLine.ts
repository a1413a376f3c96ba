import { bayonetIn } from '../drawer/quickTokens.ts';
import type { Host } from '../train/model.ts';
import { MM_PER_INCH, decimal } from '../units.ts';

/** What a line says of a telescope or lens. */
export interface HostReading {
  kind: Host['kind'] | undefined;
  apertureMm: number;
  focalLengthMm: number;
  /** Bayonet of a lens, by its flange distance: `dslr-44.0`. */
  bayonet?: string;
  /** What is left of the line: a name. */
  name: string;
}

/** A line that may be of a lens as well has that reading too: `135mm f/2`. */
type Read = { ok: true; host: HostReading; otherwise?: HostReading };

export type HostLine = Read | { ok: false; message: string };

/** Words for kinds of host, longest first (common practice, no source). */
const KINDS: readonly [RegExp, Host['kind']][] = [
  [/\b(?:camera|photo) lens\b|\blens\b|\bobjective\b/i, 'camera-lens'],
  [/\bschmidt[\s-]cassegrain\b|\bsct\b|\bsc\b/i, 'schmidt-cassegrain'],
  [/\bnewton(?:ian)?\b|\breflector\b/i, 'newtonian'],
  [/\btwo[\s-]mirror\b|\britchey[\s-]chr[eé]tien\b|\brc\b|\bcassegrain\b/i, 'two-mirror'],
  [/\bpetzval\b|\bquintuplet\b|\bquadruplet\b|\bastrograph\b/i, 'petzval'],
  [/\brefractor\b|\bapo\b|\bed\b|\bdoublet\b|\btriplet\b|\bachromat\b/i, 'refractor']
];

const NUMBER = String.raw`(\d+(?:[.,]\d+)?)`;
const RATIO = new RegExp(String.raw`(?<![a-z])f\s*/?\s*${NUMBER}(?!\s*(?:mm|in))`, 'i');
const INVERTED_RATIO = new RegExp(String.raw`\b1\s*:\s*${NUMBER}`);
const PRODUCT = new RegExp(String.raw`${NUMBER}\s*[×x*]\s*${NUMBER}`, 'i');
const LENGTH = new RegExp(String.raw`${NUMBER}\s*(mm|cm|inches|inch|in|"|″)?(?![\w.])`, 'gi');

const SLOWEST = 100;
/** Focal ratios are rounded: the same within this share (common practice, no source). */
const SAME_RATIO = 0.06;
/** Few telescopes are as fast as that, and most lenses are (common practice, no source). */
const FAST = 4;
const TELESCOPE = /(?<!\p{L})(?:tele)?scope(?!\p{L})/iu;
const LARGEST_MM = 20_000;

const inMm = (text: string, unit: string | undefined): number => {
  const number = decimal(text);
  if (unit === undefined || unit.toLowerCase() === 'mm') return number;
  return Number((number * (unit.toLowerCase() === 'cm' ? 10 : MM_PER_INCH)).toFixed(2));
};

/** Whether a line looks like that of a telescope: a focal ratio, a kind of one, two sizes. */
export const mayBeHost = (text: string): boolean =>
  RATIO.test(text) ||
  INVERTED_RATIO.test(text) ||
  KINDS.some(([word]) => word.test(text)) ||
  /\d\s*\/\s*\d{3}/.test(text);

/**
 * Reads what people say of a telescope: `refractor 100 f/6`, `100/600`, `8in f/10 SCT`, `100 × 6`, `lens 85 f/2`.
 * Of one length and a ratio the length is the aperture, of a camera lens the focal length; of two the larger is the
 * focal length. What is neither a number nor a kind is its name.
 *
 * @param text at most 200 letters are looked at
 */
export function readHostLine(text: string): HostLine {
  let rest = ` ${text.slice(0, 200)} `;
  const found = KINDS.find(([word]) => word.test(rest));
  const kind = found?.[1];
  if (found) rest = rest.replace(found[0], ' ');
  const mounted = bayonetIn(rest);
  if (mounted) rest = rest.replace(mounted.text, ' ');
  const ratioMatch = RATIO.exec(rest) ?? INVERTED_RATIO.exec(rest);
  let ratio = ratioMatch ? decimal(ratioMatch[1]!) : undefined;
  if (ratioMatch) rest = rest.replace(ratioMatch[0], ' ');
  const product = ratio === undefined ? PRODUCT.exec(rest) : null;
  const lengths: number[] = [];
  if (product) {
    lengths.push(decimal(product[1]!));
    ratio = decimal(product[2]!);
    rest = rest.replace(product[0], ' ');
  } else {
    rest = rest.replace(LENGTH, (_all, number: string, unit: string | undefined) => {
      if (lengths.length < 2) lengths.push(inMm(number, unit));
      return ' ';
    });
  }
  const left = rest.replace(/[\s,;/]+/g, ' ').trim();
  const name = /^(?:tele)?scope$/i.test(left) ? '' : left;
  if (ratio !== undefined && !(ratio > 0 && ratio <= SLOWEST))
    return refuse('No focal ratio is like that: f/6 is usual.');
  const [one, two] = lengths;
  if (one === undefined) {
    return refuse('Its size is missing: aperture with focal ratio or focal length, as 100 f/6 or 100/600.');
  }
  if (two === undefined && ratio === undefined) {
    return refuse('Add its focal ratio or focal length, as 100 f/6 or 100/600.');
  }
  if (two !== undefined && ratio !== undefined) {
    const stated = Math.max(one, two) / Math.min(one, two);
    if (Math.abs(stated / ratio - 1) > SAME_RATIO) {
      return refuse(`${one} and ${two} mm are f/${Number(stated.toFixed(1))}, not f/${ratio}. Leave one of them out.`);
    }
  }
  const [apertureMm, focalLengthMm] =
    two !== undefined
      ? [Math.min(one, two), Math.max(one, two)]
      : kind === 'camera-lens'
        ? [one / ratio!, one]
        : [one, one * ratio!];
  if (!(apertureMm > 0 && focalLengthMm > 0 && focalLengthMm <= LARGEST_MM))
    return refuse('No telescope has that size.');
  const tidy = (mm: number): number => Number(mm.toFixed(2));
  const reading = (asked: Host['kind'] | undefined, aperture: number, focal: number): HostReading => ({
    kind: asked,
    apertureMm: tidy(aperture),
    focalLengthMm: tidy(focal),
    ...(mounted ? { bayonet: mounted.bayonet } : {}),
    name
  });
  const mayBeLens = kind === undefined && two === undefined && ratio! <= FAST && !TELESCOPE.test(text);
  return {
    ok: true,
    host: reading(kind, apertureMm, focalLengthMm),
    ...(mayBeLens ? { otherwise: reading('camera-lens', one / ratio!, one) } : {})
  };
}

const refuse = (message: string): HostLine => ({ ok: false, message });
