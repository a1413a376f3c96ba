import { datumOf, halfDiagonal } from '../length/backFocus.ts';
import { correctorOf, glassOf, type Element, type Glass, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { capitalised, formatLength, listedBriefly } from '../why/wording.ts';
import { atElement, type Check, type Finding, type Proposal } from './finding.ts';

/** Hosts whose own field curves enough to show on a large sensor; the others differ too much to say. */
const CURVED: ReadonlySet<Train['host']['kind']> = new Set(['refractor', 'schmidt-cassegrain', 'two-mirror']);

/** Sensors of up to this diagonal hardly show a curved field, mm (common practice, no source). */
const SMALL_DIAGONAL_MM = 22;

const takeOut = (element: Element) => (): readonly Proposal[] => [
  {
    action: () => `Remove ${element.name}`,
    sentence: () => `Remove ${element.name}.`,
    operation: { op: 'remove', id: element.id }
  }
];

/** A flattener behind a host that is flat already, or that may be; and what may be a flattener behind a flat host. */
function flattened(train: Train): Finding[] {
  const { flatField, kind, name: host } = train.host;
  const probably = flatField === undefined && kind === 'petzval';
  if (!flatField && !probably) return [];
  return train.elements.flatMap((element): Finding[] => {
    const { id, name } = element;
    const corrector = correctorOf(element);
    if (!corrector || corrector.flattensField === false) return [];
    const unknown = { code: 'flat-field-unknown', level: 'not-known', place: atElement(id) } as const;
    if (corrector.flattensField === undefined) {
      if (!flatField) return [];
      return [
        {
          ...unknown,
          fill: ['corrector'],
          say: () =>
            `Not known whether ${name} flattens the field. ${host} is already flat, and a flattener would add curvature: state it.`
        }
      ];
    }
    return [
      probably
        ? {
            ...unknown,
            say: () =>
              `${name} flattens the field. Whether ${host} is flat already is not stated; a petzval usually is, and then this would add curvature.`
          }
        : {
            code: 'flattener-on-flat-host',
            level: 'error',
            place: atElement(id),
            say: () => `${name} flattens the field, but ${host} is already flat: it would add curvature. Remove it.`,
            proposals: takeOut(element)
          }
    ];
  });
}

/** Nothing flattens a curved field that a large sensor sees. */
function curved(train: Train): Finding | undefined {
  const { host } = train;
  const half = halfDiagonal(train);
  const { corrector, id } = datumOf(train);
  if (host.flatField || !CURVED.has(host.kind) || half === undefined || 2 * half <= SMALL_DIAGONAL_MM) return undefined;
  if (corrector && corrector.flattensField !== false) return undefined;
  return {
    code: 'field-curved',
    level: 'warning',
    place: corrector ? atElement(id) : { kind: 'host' },
    figure: mm(2 * half),
    limit: mm(SMALL_DIAGONAL_MM),
    say: (unit) =>
      `Nothing here flattens the field of ${host.name}: stars in the corners of a sensor of ${formatLength(2 * half, unit)} diagonal will be soft. If it is flat by itself, state that.`
  };
}

/** Whether what flattens the field stands where there is a curved one, both ways (handbook §3). */
export const field: Check = {
  id: 'field',
  title: 'Corrector and host',
  fine: ({ ledger }) => (ledger.datum.corrector ? 'Corrector and host suit each other.' : undefined),
  codes: ['flattener-on-flat-host', 'flat-field-unknown', 'field-curved'],
  find: ({ train }) => [...flattened(train), ...[curved(train)].filter((each) => each !== undefined)]
};

/** Where an infrared-blocking filter costs least in this train, in words. */
function cheapestPlace(train: Train): string {
  const { elements } = train;
  const inner = elements.find((element) =>
    ['sky' in element ? element.sky : undefined, 'camera' in element ? element.camera : undefined].some(
      (port) => port && 'thread' in port && port.second
    )
  );
  if (inner) return `in the inner thread of ${inner.name}, where it adds no length`;
  const holder = elements.find(({ kind }) => kind === 'filter-wheel' || kind === 'filter-drawer');
  if (holder) return `in ${holder.name}`;
  return datumOf(train).index < 0
    ? 'somewhere ahead of the sensor, or as a clip-in inside the camera body'
    : 'ahead of the corrector, where its glass does not count, or as a clip-in inside the camera body';
}

/** Whether some glass keeps infrared out: it does, it is said not to, or nobody has said. */
type Blocking = 'yes' | 'no' | 'unknown';

const blockingOf = ({ blocksInfrared }: Glass): Blocking =>
  blocksInfrared === undefined ? 'unknown' : blocksInfrared ? 'yes' : 'no';

/** What plates do one behind the other. */
const together = (plates: readonly Blocking[]): Blocking =>
  plates.includes('yes') ? 'yes' : plates.includes('unknown') ? 'unknown' : 'no';

/** A slot that lets infrared through, or may. */
interface LeakySlot {
  words: string;
  blocking: Blocking;
}

/** Slots of every holder that lets infrared through in any of them; none where some holder blocks it in each. */
function leakySlots({ elements }: Train): LeakySlot[] | undefined {
  const leaky: LeakySlot[] = [];
  for (const element of elements) {
    const plates = (glassOf(element) ?? []).filter(({ slot }) => slot !== undefined);
    const slots = [...new Set(plates.map(({ slot }) => slot!))].sort((a, b) => a - b);
    const found = slots.flatMap((slot): LeakySlot[] => {
      const within = plates.filter((plate) => plate.slot === slot);
      const filled = within.filter(({ thicknessMm }) => thicknessMm > 0);
      const blocking = together(filled.map(blockingOf));
      const name = within.find(({ name: each }) => each !== undefined)?.name;
      return blocking === 'yes'
        ? []
        : [{ words: `slot ${slot}${name === undefined ? '' : ` (${name})`} of ${element.name}`, blocking }];
    });
    if (slots.length > 0 && found.length === 0) return undefined;
    leaky.push(...found);
  }
  return leaky;
}

/** A colour sensor that infrared light reaches bloats stars: judged slot by slot. */
export const infrared: Check = {
  id: 'infrared',
  title: 'Infrared',
  codes: ['infrared', 'infrared-unknown'],
  find: ({ train }) => {
    const camera = train.elements.at(-1);
    if (camera?.kind !== 'camera' || !camera.sensor?.colour) return [];
    const always = train.elements.flatMap((element) =>
      (glassOf(element) ?? []).filter(({ slot, thicknessMm }) => slot === undefined && thicknessMm > 0)
    );
    // A window that nobody describes may block it.
    const isWindowSaid = (camera.glass ?? []).some(({ slot }) => slot === undefined);
    const standing = together([...always.map(blockingOf), ...(isWindowSaid ? [] : (['unknown'] as const))]);
    const slots = leakySlots(train);
    if (standing === 'yes' || slots === undefined) return [];
    const finding = (level: 'warning' | 'not-known', which: readonly LeakySlot[]): Finding => ({
      code: level === 'warning' ? 'infrared' : 'infrared-unknown',
      level,
      place: atElement(camera.id),
      ...(level === 'warning' ? {} : { fill: ['glass'] }),
      say: () => {
        const through = which.length === 0 ? '' : `${capitalised(listedBriefly(which.map(({ words }) => words)))}: `;
        return level === 'warning'
          ? `${through === '' ? 'Nothing' : `${through}nothing`} in the beam blocks infrared, and the window of ${camera.name} lets it through: stars will bloat. Put an infrared-blocking filter ${cheapestPlace(train)}.`
          : `${through === '' ? 'Not' : `${through}not`} known whether infrared is blocked: state it of ${[...(which.some(({ blocking }) => blocking === 'unknown') ? ['these filters'] : []), ...(standing === 'unknown' ? [isWindowSaid ? 'the glass that is always in the beam' : `the window of ${camera.name}`] : [])].join(' or ')}. Without a filter that blocks it stars will bloat.`;
      }
    });
    if (slots.length === 0) return [finding(standing === 'no' ? 'warning' : 'not-known', [])];
    const sure = standing === 'no' ? slots.filter(({ blocking }) => blocking === 'no') : [];
    const unsure = slots.filter((slot) => !sure.includes(slot));
    return [
      ...(sure.length > 0 ? [finding('warning', sure)] : []),
      ...(unsure.length > 0 ? [finding('not-known', unsure)] : [])
    ];
  }
};
