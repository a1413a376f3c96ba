import { datumOf, halfDiagonal } from '../length/backFocus.ts';
import { correctorOf, glassOf, type Element, type Train } from '../train/model.ts';
import { mm } from '../why/quantity.ts';
import { formatLength } from '../why/wording.ts';
import { atElement, type Check, type Finding, type Proposal } from './finding.ts';

/** Hosts whose own field curves enough to show on a large sensor; the others differ too much to say. */
const CURVED: ReadonlySet<Train['host']['kind']> = new Set(['refractor', 'schmidt-cassegrain', 'two-mirror']);

/** Sensors of up to this diagonal hardly show a curved field, mm (common practice, no source). */
const SMALL_DIAGONAL_MM = 22;

const takeOut = (element: Element) => (): readonly Proposal[] => [
  {
    action: () => `Take ${element.name} out`,
    sentence: () => `Take ${element.name} out.`,
    operation: { op: 'remove', id: element.id }
  }
];

/** A flattener behind a host that is flat already, or that is probably flat. */
function flattened(train: Train): Finding[] {
  const { flatField, kind, name: host } = train.host;
  const probably = flatField === undefined && kind === 'petzval';
  if (!flatField && !probably) return [];
  return train.elements
    .filter((element) => correctorOf(element)?.flattensField)
    .map((element): Finding => {
      const { id, name } = element;
      return probably
        ? {
            code: 'flat-field-unknown',
            level: 'not-known',
            place: atElement(id),
            say: () =>
              `${name} flattens the field. Whether ${host} is flat already is not given; a petzval usually is, and then this would add curvature.`
          }
        : {
            code: 'flattener-on-flat-host',
            level: 'error',
            place: atElement(id),
            say: () => `${name} flattens the field, but ${host} is already flat: it would add curvature. Take it out.`,
            proposals: takeOut(element)
          };
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
      `Nothing here flattens the field of ${host.name}: stars in the corners of a sensor of ${formatLength(2 * half, unit)} diagonal will be soft. If it is flat by itself, say so.`
  };
}

/** Whether what flattens the field stands where there is a curved one, both ways (handbook §3). */
export const field: Check = {
  id: 'field',
  title: 'Corrector and host',
  fine: ({ ledger }) => (ledger.datum.corrector ? 'Corrector and host suit each other.' : undefined),
  stage: 'need',
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

/** A colour sensor that infrared light reaches bloats stars. */
export const infrared: Check = {
  id: 'infrared',
  title: 'Infrared',
  stage: 'check',
  codes: ['infrared', 'infrared-unknown'],
  find: ({ train }) => {
    const camera = train.elements.at(-1);
    if (camera?.kind !== 'camera' || !camera.sensor?.colour) return [];
    const plates = train.elements.flatMap((element) => glassOf(element) ?? []);
    if (plates.some(({ blocksInfrared }) => blocksInfrared)) return [];
    const known = (camera.glass ?? []).some(({ blocksInfrared }) => blocksInfrared === false);
    return [
      {
        code: known ? 'infrared' : 'infrared-unknown',
        level: known ? 'warning' : 'not-known',
        place: atElement(camera.id),
        say: () =>
          known
            ? `Nothing in the beam blocks infrared, and the window of ${camera.name} lets it through: stars will bloat. Put an infrared-blocking filter ${cheapestPlace(train)}.`
            : `Not given whether the window of ${camera.name} blocks infrared, and no filter does: if it does not, stars will bloat.`
      }
    ];
  }
};
