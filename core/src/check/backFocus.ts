import { DATUM_WORDS, datumCorrection, disagreements, maleLength, nominalBackFocus } from '../length/backFocus.ts';
import type { Ledger } from '../length/ledger.ts';
import { HOST, nameOf, type Corrector, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atElement, type Check, type Finding } from './finding.ts';

/** Tuned and published back focus closer than this to a thread's length apart: the datum was probably misread, mm. */
const MISREAD_MM = 0.3;

/** Figures that differ by what the glass shifts, within this: one of them probably allows for the filter, mm. */
const FILTER_MM = 0.08;

/** Whether a corrector is there, and says nothing that holds for this host. */
export const isBackFocusUnknown = ({ datum, nominal, required }: Ledger): boolean =>
  datum.corrector !== undefined && nominal.source === 'none' && required.tunedMm === null;

function noDatum(train: Train, ledger: Ledger): Finding | undefined {
  const { datum } = ledger;
  if (datum.corrector && !isBackFocusUnknown(ledger)) return undefined;
  return {
    code: 'no-datum',
    level: 'not-known',
    place: atElement(datum.id),
    say: () =>
      datum.corrector
        ? `${nameOf(train, datum.id)} gives its back focus for other hosts only: none of its table's rows is within 1 % of this one. Enter the figure for this host.`
        : 'Nothing in this train gives a back focus, so there is nothing to compare the length with.'
  };
}

function offsetUnknown(ledger: Ledger): Finding | undefined {
  if (!ledger.datumUnknown) return undefined;
  const tip = ledger.datum.corrector?.datum === 'thread-tip';
  return {
    code: 'datum-offset-unknown',
    level: 'not-known',
    place: atElement(ledger.datum.id),
    fill: ['corrector'],
    say: () =>
      tip
        ? 'The back focus is measured from the thread tip: state the length of the male thread.'
        : 'The back focus is measured from the last lens surface: state its depth inside the shoulder.'
  };
}

/** What two figures so far apart have probably been counted from, in words that end a clause; empty where nothing fits. */
function suspicion({ datum, glass }: Ledger, apartMm: number): string {
  const thread = maleLength(datum.port);
  if (thread !== undefined && thread > MISREAD_MM && Math.abs(apartMm - thread) <= MISREAD_MM) {
    return `, about the male thread's length: one of the two is probably measured from the thread tip`;
  }
  const shiftMm = glass.reduce((sum, term) => sum + term.shiftMm, 0);
  return shiftMm > FILTER_MM && Math.abs(apartMm - shiftMm) <= FILTER_MM
    ? ', about what the glass in the beam shifts: one of the two probably allows for it'
    : '';
}

function publishedConflicts(ledger: Ledger, corrector: Corrector): Finding[] {
  return disagreements(corrector, ledger.datum.port).map(({ figure, apartMm }) => {
    const { source, backFocusMm, datum = 'shoulder' } = figure;
    const apart = Math.abs(apartMm);
    return {
      code: 'published-conflict',
      level: 'warning',
      place: atElement(ledger.datum.id),
      figure: mm(apart),
      say: (unit) =>
        `“${source}” states ${formatLength(backFocusMm, unit)} from ${DATUM_WORDS[datum]}: ${formatLength(apart, unit)} ${apartMm > 0 ? 'longer' : 'shorter'} than the figure in use${suspicion(ledger, apart)}. Test which is right, and keep it as the tuned value.`
    };
  });
}

function misread({ datum, required }: Ledger): Finding | undefined {
  const { corrector, port, id } = datum;
  const thread = maleLength(port);
  const { tunedMm, nominalMm } = required;
  if (tunedMm === null || nominalMm === null || thread === undefined || thread <= MISREAD_MM) return undefined;
  const tip = corrector?.datum === 'thread-tip';
  const apart = tunedMm - nominalMm;
  if (corrector?.datum === 'last-surface' || Math.abs(apart - (tip ? -thread : thread)) > MISREAD_MM) return undefined;
  return {
    code: 'datum-misread',
    level: 'warning',
    place: atElement(id),
    figure: mm(Math.abs(apart)),
    say: (unit) =>
      `The tuned value differs from the published one by ${formatLength(Math.abs(apart), unit)}, about the male thread's length: the published figure is probably measured from the ${tip ? 'shoulder' : 'thread tip'}.`
  };
}

/** Two that ask for the same back focus, to a twentieth of a millimetre, do not contradict each other. */
const SAME_MM = 0.05 + 1e-9;

function hostUnused(train: Train, ledger: Ledger): Finding | undefined {
  const own = train.host.corrector;
  if (ledger.datum.index < 0 || !own) return undefined;
  const hostMm = nominalBackFocus(own, train).mm;
  const correction = datumCorrection(own, train.host.camera) ?? 0;
  const { nominalMm, datumMm } = ledger.required;
  if (hostMm !== null && nominalMm !== null && Math.abs(hostMm + correction - nominalMm - (datumMm ?? 0)) <= SAME_MM) {
    return undefined;
  }
  return {
    code: 'host-corrector-unused',
    level: 'warning',
    place: { kind: 'host' },
    say: () => `${train.host.name} states a back focus, but ${nameOf(train, ledger.datum.id)} is behind it and sets it.`
  };
}

/** What sets the back focus, and whether what is said of it fits together (handbook §2). */
export const backFocus: Check = {
  id: 'back-focus',
  title: 'Back focus',
  fine: ({ ledger }) =>
    ledger.datum.corrector ? 'The back focus and the plane it is measured from are stated.' : undefined,
  codes: ['no-datum', 'datum-offset-unknown', 'published-conflict', 'datum-misread', 'host-corrector-unused'],
  find: ({ train, ledger }) =>
    [
      noDatum(train, ledger),
      offsetUnknown(ledger),
      ...(ledger.datum.corrector ? publishedConflicts(ledger, ledger.datum.corrector) : []),
      misread(ledger),
      hostUnused(train, ledger)
    ].filter((each) => each !== undefined)
};

/**
 * Object distance a lens's scale has to show for infinity where the sensor stands too near, mm from the sensor: the whole
 * lens moves out by what is missing, so that it is focused as on an object at F²/δ + F from its front principal plane
 * (thin lens).
 *
 * @param focalMm focal length, mm @param shortMm how much too near the sensor stands, mm, > 0
 */
const scaleAtInfinity = (focalMm: number, shortMm: number): number =>
  (focalMm * focalMm) / shortMm + 2 * focalMm + shortMm;

/** Object distances for a person. */
const inMetres = (mm: number): string => (mm >= 10_000 ? `${(mm / 1000).toFixed(0)} m` : `${(mm / 1000).toFixed(1)} m`);

/** What becomes of infinity on a camera lens whose sensor stands too near, as a sentence, and whether it is kept. */
export function infinityWhenShort({ host }: Train, shortMm: number): { kept: boolean | undefined; sentence: string } {
  const scaleMm = scaleAtInfinity(host.focalLengthMm, shortMm);
  const { nearLimitMm } = host;
  if (nearLimitMm === undefined) {
    return {
      kept: undefined,
      sentence: `Whether the lens still reaches infinity is not known: it does if it focuses as near as ${inMetres(scaleMm)}. State its closest focus.`
    };
  }
  return nearLimitMm <= scaleMm
    ? {
        kept: true,
        sentence: `The lens still reaches infinity, with its scale at about ${inMetres(scaleMm)} (closest focus ${inMetres(nearLimitMm)}).`
      }
    : {
        kept: false,
        sentence: `The lens does not reach infinity: it would have to focus as near as ${inMetres(scaleMm)}, and its closest focus is ${inMetres(nearLimitMm)}.`
      };
}

/** On a camera lens too long a train loses infinity; too short, its focusing travel may not make up for it (common practice, no source). */
export const infinity: Check = {
  id: 'infinity',
  title: 'Infinity',
  fine: ({ train }) => (train.host.kind === 'camera-lens' ? 'The lens reaches infinity.' : undefined),
  codes: ['infinity-lost', 'infinity-kept', 'infinity-unknown'],
  find: (facts) => {
    const { train } = facts;
    const { residualMm, required, datum } = facts.standing.ledger;
    const { kind, name } = train.host;
    const { toleranceMm } = required;
    if (kind !== 'camera-lens' || datum.id !== HOST || residualMm === null || toleranceMm === null) return [];
    if (Math.round(Math.abs(residualMm) * 1000) <= Math.round(toleranceMm * 1000)) return [];
    const common = { place: { kind: 'host' }, figure: mm(residualMm), badness: Math.abs(residualMm) } as const;
    if (residualMm > 0) {
      return [
        {
          ...common,
          code: 'infinity-lost',
          level: 'warning',
          say: (unit) =>
            `${name}: sensor ${formatLength(residualMm, unit)} too far back: the lens will probably not reach infinity.`
        }
      ];
    }
    const { kept, sentence } = infinityWhenShort(train, -residualMm);
    return [
      {
        ...common,
        code: kept === undefined ? 'infinity-unknown' : kept ? 'infinity-kept' : 'infinity-lost',
        level: kept === undefined ? 'not-known' : kept ? 'passed' : 'warning',
        ...(kept === undefined ? { fill: ['nearLimitMm'] } : {}),
        say: () => `${name}: ${sentence}`
      }
    ];
  }
};
