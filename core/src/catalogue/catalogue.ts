import { T_MOUNT_MM } from '../joint/flange.ts';
import type { BodyElement, CameraElement, Corrector, Element, Host, Port, SolidElement } from '../train/model.ts';

/** What every entry says of itself. */
export const CATALOGUE_NOTE = 'Common practice, no source: check yours.';

/** What a train is begun with. */
export type Role = 'corrector' | 'camera' | 'part';

/** A usual thing: what it is, without a maker, to be checked against one's own. */
export interface UsualThing {
  id: string;
  /** What people call it; the name it gets. */
  words: string;
  /** What tells it from others, for a list. */
  figures: string;
  role: Role;
  element: SolidElement;
}

/** A host that sets the back focus itself: a camera lens on its bayonet. */
export interface UsualLensMount {
  id: string;
  words: string;
  figures: string;
  camera: Port;
  corrector: Corrector;
}

const assumed = (port: Port): Port => ({ ...port, assumed: true });
const thread = (designation: string, gender: 'male' | 'female'): Port => assumed({ thread: designation, gender });
const bayonet = (name: string, gender: 'male' | 'female'): Port => assumed({ bayonet: name, gender });

/** The bayonet of a lens or of a camera body: both are female (common practice, no source). */
export const usualBayonet = (name: string): Port => bayonet(name, 'female');

type Faces = Pick<BodyElement, 'sky' | 'camera'>;

const thing = (
  role: Role,
  words: string,
  figures: string,
  element: Omit<Element, 'id' | 'name' | 'note'>
): UsualThing => {
  const id = `${words} ${figures}`
    .toLowerCase()
    .replace(/[^a-z0-9.]+/g, '-')
    .replace(/^-|-$/g, '');
  return {
    id,
    words,
    figures,
    role,
    element: { ...element, id, name: words, note: CATALOGUE_NOTE } as SolidElement
  };
};

const camera = (words: string, flangeMm: number, sky: Port | undefined): UsualThing =>
  thing('camera', words, `${flangeMm} to the sensor`, {
    kind: 'camera',
    lengthMm: flangeMm,
    ...(sky ? { sky } : {})
  } as Omit<CameraElement, 'id' | 'name'>);

const body = (
  words: string,
  kind: BodyElement['kind'],
  lengthMm: number,
  faces: Faces = {},
  more: Partial<BodyElement> = {}
): UsualThing =>
  thing('part', words, `${lengthMm} long`, { kind, lengthMm, ...faces, ...more } as Omit<BodyElement, 'id' | 'name'>);

const ring = (lengthMm: number, designation: string): UsualThing =>
  body(`Spacer ${lengthMm} ${designation}`, 'spacer', lengthMm, {
    sky: thread(designation, 'female'),
    camera: thread(designation, 'male')
  });

/** Flange distances by bayonet, mm (common practice, no source). */
const DSLR_MM = ['44.0', '44.5', '45.46', '46.5'] as const;
const MIRRORLESS_MM = ['16.0', '18.0', '19.0', '20.0'] as const;

const bayonets = [
  ...DSLR_MM.map((flange) => ({ name: `dslr-${flange}`, words: `DSLR bayonet ${flange}`, flangeMm: Number(flange) })),
  ...MIRRORLESS_MM.map((flange) => ({
    name: `mirrorless-${flange}`,
    words: `mirrorless bayonet ${flange}`,
    flangeMm: Number(flange)
  }))
];

/** Names of bayonets: by their flange distance, never by a maker. */
export const USUAL_BAYONETS: readonly string[] = bayonets.map(({ name }) => name);

const corrector = (words: string, asks: Corrector, faces: Faces, lengthMm = 30): UsualThing =>
  thing('corrector', words, `${asks.backFocusMm} from the ${DATUM[asks.datum ?? 'shoulder']}`, {
    kind: 'corrector',
    lengthMm,
    ...faces,
    corrector: asks
  } as Omit<BodyElement, 'id' | 'name'>);

const DATUM = { shoulder: 'shoulder', 'thread-tip': 'thread tip', 'last-surface': 'last surface' } as const;

const M48: Faces = { camera: thread('M48×0.75', 'male') };
const SC: Faces = { sky: thread('2″-24 UN', 'female'), camera: thread('2″-24 UN', 'male') };

/** Filters by format: the thread of their cell, glass of usual thickness, mm. */
const FILTERS = [
  ['1.25″ filter', 'M28.5×0.6'],
  ['2″ filter', 'M48×0.75']
] as const;

/** From a lens of one bayonet to a camera of another: as long as their flange distances differ. */
function lensAdapters(): UsualThing[] {
  return DSLR_MM.flatMap((lens) =>
    MIRRORLESS_MM.map((camera) =>
      body(
        `Lens adapter, DSLR ${lens} to mirrorless ${camera}`,
        'bayonet-adapter',
        Number((Number(lens) - Number(camera)).toFixed(2)),
        {
          sky: bayonet(`dslr-${lens}`, 'male'),
          camera: bayonet(`mirrorless-${camera}`, 'male')
        }
      )
    )
  );
}

/** Adapters that come with correctors of long back focus, mm. */
const LONG_ADAPTERS_MM = [50, 78.5, 91.05] as const;

/** Threads that step rings join, sky face first. */
const STEPS = [
  ['M42×0.75', 'M48×0.75'],
  ['M48×0.75', 'M42×0.75'],
  ['M54×0.75', 'M48×0.75'],
  ['M48×0.75', 'M54×0.75']
] as const;

/** Usual things by what they are, each an example to be checked (common practice, no source; C-mount: ISO 10935). */
export const CATALOGUE: readonly UsualThing[] = [
  camera('Cooled camera, short nose off', 6.5, undefined),
  camera('Cooled camera, full-frame size', 12.5, undefined),
  camera('Cooled camera', 17.5, thread('M42×0.75', 'female')),
  camera('C-mount camera', 17.526, thread('1″-32 UN', 'female')),
  camera('CS-mount camera', 12.526, thread('1″-32 UN', 'female')),
  ...bayonets.map(({ name, words, flangeMm }) =>
    camera(`${words.startsWith('DSLR') ? 'DSLR' : 'Mirrorless'} body, bayonet`, flangeMm, bayonet(name, 'female'))
  ),
  corrector('Flattener', { backFocusMm: 55, flattensField: true }, M48),
  corrector('Reducer-flattener 0.8×', { backFocusMm: 55, magnification: 0.8, flattensField: true }, M48),
  corrector('Coma corrector', { backFocusMm: 55 }, M48),
  corrector(
    'Reducer 0.63× for Schmidt-Cassegrains',
    { backFocusMm: 105, magnification: 0.63, flattensField: true },
    SC
  ),
  corrector('Reducer 0.7×, long back focus', { backFocusMm: 146.05, magnification: 0.7 }, {}),
  corrector('Flattener', { backFocusMm: 67.7, flattensField: true }, {}),
  corrector('Flattener', { backFocusMm: 69.2, datum: 'last-surface', datumOffsetMm: 1.5, flattensField: true }, {}),
  ...bayonets.map(({ name, words, flangeMm }) =>
    body(`T-ring for ${words}`, 'bayonet-adapter', Number((T_MOUNT_MM - flangeMm).toFixed(2)), {
      sky: thread('M42×0.75', 'female'),
      camera: bayonet(name, 'male')
    })
  ),
  body('One-piece M48 ring for DSLR bayonet 44.0', 'bayonet-adapter', 10, {
    sky: thread('M48×0.75', 'female'),
    camera: bayonet('dslr-44.0', 'male')
  }),
  ...lensAdapters(),
  ...LONG_ADAPTERS_MM.map((lengthMm) =>
    body('Adapter to M42', 'adapter', lengthMm, { camera: thread('M42×0.75', 'male') })
  ),
  ...STEPS.map(([sky, camera]) =>
    body(`Step ring ${sky} f – ${camera} m`, 'adapter', 1.5, {
      sky: thread(sky, 'female'),
      camera: thread(camera, 'male')
    })
  ),
  body('Nose 1.25″', 'adapter', 2, {
    sky: assumed({ slip: '1.25in', gender: 'male' }),
    camera: thread('M42×0.75', 'male')
  }),
  body('Nose 2″', 'adapter', 2, { sky: assumed({ slip: '2in', gender: 'male' }), camera: thread('M48×0.75', 'male') }),
  body('Nose ring', 'adapter', 11, {}, { removable: true }),
  ring(16.5, 'M42×0.75'),
  ring(21, 'M42×0.75'),
  ring(16.5, 'M48×0.75'),
  ring(21, 'M48×0.75'),
  body('Filter drawer', 'filter-drawer', 21),
  body('Filter wheel', 'filter-wheel', 20),
  body('Off-axis guider', 'off-axis-guider', 17),
  body('Rotator', 'rotator', 15),
  body('Helical focuser', 'focuser', 20),
  ...FILTERS.map(([words, designation]) =>
    body(
      words,
      'filter',
      0,
      { sky: thread(designation, 'female'), camera: thread(designation, 'male') },
      { glass: [{ name: words, thicknessMm: 2 }] }
    )
  )
];

/** Camera lenses by the bayonet their back focus is the flange distance of (common practice, no source). */
export const LENS_MOUNTS: readonly UsualLensMount[] = bayonets.map(({ name, words, flangeMm }) => ({
  id: `lens-${name}`,
  words: `Lens, ${words}`,
  figures: `${flangeMm} from its flange`,
  camera: usualBayonet(name),
  corrector: { backFocusMm: flangeMm }
}));

/** The face a host of a kind mostly has, to be checked (common practice, no source). */
export function usualHostFace(kind: Host['kind']): Port {
  switch (kind) {
    case 'schmidt-cassegrain':
      return thread('2″-24 UN', 'male');
    case 'camera-lens':
      return usualBayonet('dslr-44.0');
    default:
      return assumed({ slip: '2in', gender: 'female' });
  }
}
