/** A word of the trade, as the fields use it. */
export interface Word {
  term: string;
  says: string;
}

/** What the fields ask for, in plain words; by the last key of where the answer is kept. The guide lists them all. */
export const GLOSSARY: Readonly<Record<string, Word>> = {
  backFocusMm: {
    term: 'Back focus',
    says: 'The distance from a plane of the corrector to the sensor at which its corners are sharp. It is published by the maker; filters behind the corrector add about a third of their thickness to it.'
  },
  datum: {
    term: 'Datum',
    says: 'The plane a back focus is counted from: the shoulder the next part seats on, the tip of the male thread, or the last glass surface. The maker’s sheet states which; they differ by millimetres.'
  },
  datumOffsetMm: {
    term: 'Datum offset',
    says: 'Distance from the shoulder to the stated plane: the length of the male thread, or the depth of the last glass surface.'
  },
  toleranceMm: {
    term: 'Tolerance',
    says: 'How far off is still good. Of a part: how far its length may differ from what is published. Of a back focus: within how much the corners stay sharp.'
  },
  magnification: {
    term: 'Magnification',
    says: 'What a corrector does to the focal length: 0.8 for a reducer, 1 for a flattener, above 1 for an extender.'
  },
  lengthMm: {
    term: 'Length',
    says: 'From shoulder to shoulder, without the threads. Of a camera: from its flange to the sensor. Of a thread: how long the male, or how deep the female.'
  },
  measuredMm: {
    term: 'Measured length',
    says: 'Length of your own part, measured. It counts in place of the published length.'
  },
  uncertaintyMm: {
    term: 'U (k = 2)',
    says: 'The uncertainty of a reading: in 95 of 100 cases the true length is within this much.'
  },
  sharedMm: {
    term: 'Error of the instrument',
    says: 'The part of the uncertainty that every reading of that instrument has in common, so that repeating does not lessen it.'
  },
  instrument: { term: 'Instrument', says: 'What it was measured with. Readings of one instrument share its error.' },
  clearMm: {
    term: 'Clear aperture',
    says: 'The diameter light can pass through. The narrowest one in the wrong place darkens the corners.'
  },
  outerMm: { term: 'Outer diameter', says: 'Of the body. It is drawn, and checked against its neighbours.' },
  massG: { term: 'Mass', says: 'In grams, for the load on the focuser and the balance.' },
  setMm: { term: 'Set to', says: 'Current setting of an adjustable part; this much counts.' },
  stepMm: { term: 'Steps', says: 'How finely the scale of an adjustable part is marked.' },
  thread: {
    term: 'Thread',
    says: 'Diameter and pitch, as M48×0.75. M42×0.75 and M42×1 look alike, start, and jam after a turn.'
  },
  gender: {
    term: 'Male, female',
    says: 'A male thread is cut outside and screws into a female one, cut inside.'
  },
  recessMm: {
    term: 'Recess',
    says: 'How deep a part sits inside the one before it. That much is taken off the sum.'
  },
  gapMm: {
    term: 'Opening',
    says: 'What stays open between two shoulders; a thread that bottoms, or a shim, causes it.'
  },
  fromSkyMm: {
    term: 'Prism, from the sky face',
    says: 'Middle of the guide prism, behind the sky face of the off-axis guider.'
  },
  innerEdgeMm: {
    term: 'Inner edge',
    says: 'How near to the optical axis the prism reaches. Too near, and it shades the sensor.'
  },
  stalkMm: { term: 'Stalk', says: 'Distance from the axis to the guide camera’s shoulder.' },
  pixelUm: {
    term: 'Pixel',
    says: 'The pitch of the sensor’s pixels in micrometres; with the focal length it gives the image scale.'
  },
  widthMm: { term: 'Sensor size', says: 'Width and height of the light-sensitive area, mm.' },
  apertureMm: {
    term: 'Aperture',
    says: 'The clear diameter of the telescope or lens. With the focal length it makes the f-ratio.'
  },
  focalLengthMm: { term: 'Focal length', says: 'Of the telescope alone, before any corrector.' },
  thicknessMm: {
    term: 'Thickness',
    says: 'Of a filter, a window or a shim. A third of a glass’s thickness is added to the back focus.'
  },
  index: {
    term: 'Refractive index',
    says: 'About 1.52 for filter glass. A plate shifts focus by its thickness times (1 − 1/index).'
  },
  minMm: {
    term: 'At least',
    says: 'Of a gap: the least the finder may add. Of an adjuster: where its travel begins.'
  },
  maxMm: {
    term: 'At most',
    says: 'Of a gap: the most the finder may add. Of an adjuster: where its travel ends.'
  },
  tunedMm: {
    term: 'Tuned value',
    says: 'The back focus your own test frames have shown to be best. It takes the place of the published one.'
  },
  rotationDeg: {
    term: 'Turned by',
    says: 'Angle against the part before, anticlockwise seen from the camera. A plain thread leaves no choice.'
  },
  obstruction: {
    term: 'Central obstruction',
    says: 'The diameter of the secondary mirror over that of the main one. It takes light evenly, and changes what the corners lose.'
  },
  exitPupilMm: {
    term: 'Exit pupil',
    says: 'Apparent place of the last stop of the optics. From there the cones of light lean outward or inward toward the corners.'
  },
  cornerLightPercent: {
    term: 'Light in the corners',
    says: 'Light in the corners as a share of the middle. Openings are checked against it.'
  },
  imageCircleMm: {
    term: 'Image circle',
    says: 'The diameter within which the corrector draws sharp stars. The guide star should be inside it too.'
  },
  guidePort: {
    term: 'Holds the guide camera by',
    says: 'The thread the guide camera screws to. With it the drawer can be searched for a tube that brings it into focus.'
  },
  tubes: {
    term: 'Tubes before the guide camera',
    says: 'Rings between the guider and its camera. They carry it farther out than its own helical does.'
  },
  objectDeg: {
    term: 'Position angle of an object',
    says: 'The direction of its long axis on the sky, counted from north through east.'
  },
  topDeg: {
    term: 'Position angle of the sensor',
    says: 'The direction on the sky that the top of the frame looks to, counted from north through east.'
  },
  standsDeg: {
    term: 'Current angle',
    says: 'The position angle of the sensor as it is screwed together now. Read it from a plate-solved frame.'
  },
  overlapPercent: {
    term: 'Overlap',
    says: 'How much of a panel its neighbour shows too, so that a mosaic can be joined without gaps.'
  },
  guideMagnitude: {
    term: 'Faintest guide star',
    says: 'The faintest star your guide camera can follow in one short exposure. Higher numbers are fainter.'
  },
  flangeMm: { term: 'Flange to sensor', says: 'From the shoulder a camera seats on to its sensor.' },
  wedgeMm: { term: 'Wedge', says: 'The thickest place less the thinnest. A wedge tilts everything behind it.' }
};
