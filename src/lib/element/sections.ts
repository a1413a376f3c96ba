import { adjustOf, isBody, isCamera, isShim, type SolidElement } from '@lodestone/core/train';

/** A field of an element: where it lies, and which definition of the schema says what it is. */
export interface FieldSpec {
  path: [string, ...string[]];
  /** Definition of the schema that holds its last key. */
  of: string;
  /** Words that fit the section better than the schema's. */
  label?: string;
  required?: boolean;
  hint?: string;
  applies?: (element: SolidElement) => boolean;
}

/** A group of fields, and the facet of an element that they describe. */
export interface SectionSpec {
  title: string;
  applies: (element: SolidElement) => boolean;
  gist: (element: SolidElement) => string;
  columns: 2 | 3;
  fields: readonly FieldSpec[];
  /** The facet may be there or not: how it is begun, and, where that makes sense, dropped. */
  facet?: {
    key: string;
    begin: (element: SolidElement) => unknown;
    beginWords: string;
    beginLabel: string;
    drop?: { words: string; label: string };
  };
}

/** A number as short as it can be said. */
const short = (value: number): string => String(Number(value.toFixed(3)));

const sensorOf = (element: SolidElement) => (isCamera(element) ? element.sensor : undefined);
const pickoffOf = (element: SolidElement) => (isBody(element) ? element.pickoff : undefined);

/** Sections whose fields the schema describes, in the order they stand under an element. */
export const SECTIONS: readonly SectionSpec[] = [
  {
    title: 'Adjuster',
    applies: (element) => isBody(element) || isCamera(element),
    gist: (element) => {
      const adjust = adjustOf(element);
      return adjust ? `${short(adjust.setMm)} of ${short(adjust.minMm)} to ${short(adjust.maxMm)}` : 'none';
    },
    columns: 2,
    fields: [
      { path: ['adjust', 'setMm'], of: 'Adjust', label: 'Set to', required: true },
      { path: ['adjust', 'stepMm'], of: 'Adjust', label: 'Marked in steps of' },
      { path: ['adjust', 'minMm'], of: 'Adjust', label: 'From', required: true },
      { path: ['adjust', 'maxMm'], of: 'Adjust', label: 'To', required: true }
    ],
    facet: {
      key: 'adjust',
      begin: () => ({ minMm: 0, maxMm: 10, setMm: 0 }),
      beginWords: 'Its length can be adjusted',
      beginLabel: 'Add an adjuster',
      drop: { words: 'It has no adjuster', label: 'Remove the adjuster' }
    }
  },
  {
    title: 'Guide prism',
    applies: (element) => element.kind === 'off-axis-guider' || pickoffOf(element) !== undefined,
    gist: (element) => (pickoffOf(element) ? '' : 'not stated'),
    columns: 2,
    fields: [
      { path: ['pickoff', 'fromSkyMm'], of: 'Pickoff', label: 'From the sky face', required: true },
      { path: ['pickoff', 'sideMm'], of: 'Pickoff' },
      { path: ['pickoff', 'innerEdgeMm'], of: 'Pickoff', label: 'Inner edge from axis' },
      { path: ['pickoff', 'index'], of: 'Pickoff', label: 'Index' },
      { path: ['pickoff', 'stalkMm'], of: 'Pickoff' },
      {
        path: ['pickoff', 'atDeg'],
        of: 'Pickoff',
        label: 'Stalk angle',
        hint: 'from the right, anticlockwise, seen from the camera'
      },
      { path: ['pickoff', 'mirror'], of: 'Pickoff', label: 'A mirror, no prism' }
    ],
    facet: {
      key: 'pickoff',
      begin: ({ lengthMm }) => ({ fromSkyMm: Math.round(lengthMm / 2) }),
      beginWords: 'Describe its prism',
      beginLabel: 'Describe the prism'
    }
  },
  {
    title: 'Sensor',
    applies: isCamera,
    gist: (element) => {
      const sensor = sensorOf(element);
      return sensor ? `${sensor.widthMm} × ${sensor.heightMm}` : 'not stated';
    },
    columns: 3,
    fields: [
      { path: ['sensor', 'widthMm'], of: 'Sensor', required: true },
      { path: ['sensor', 'heightMm'], of: 'Sensor', required: true },
      { path: ['sensor', 'pixelUm'], of: 'Sensor', label: 'Pixel', required: true },
      { path: ['sensor', 'colour'], of: 'Sensor', label: 'Colour sensor' }
    ],
    facet: {
      key: 'sensor',
      begin: () => ({ widthMm: 23.5, heightMm: 15.6, pixelUm: 3.8 }),
      beginWords: 'Describe its sensor',
      beginLabel: 'Describe the sensor'
    }
  },
  {
    title: 'Body',
    applies: () => true,
    gist: ({ massG }) => (massG === undefined ? '' : `${massG} g`),
    columns: 2,
    fields: [
      { path: ['outerMm'], of: 'BodyElement' },
      { path: ['clearMm'], of: 'BodyElement' },
      { path: ['massG'], of: 'BodyElement' },
      {
        path: ['massAtMm'],
        of: 'BodyElement',
        label: 'Centre of mass',
        hint: 'from the sky face',
        applies: (element) => !isShim(element)
      },
      { path: ['maxLoadKg'], of: 'BodyElement', label: 'Carries at most', applies: isBody },
      {
        path: ['rotatorDeg'],
        of: 'BodyElement',
        label: 'Rotator angle',
        applies: ({ kind }) => kind === 'rotator'
      },
      {
        path: ['wedgeMm'],
        of: 'ShimElement',
        label: 'Wedge',
        hint: 'thickest less thinnest place',
        applies: isShim
      }
    ]
  }
];
