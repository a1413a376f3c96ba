/** What a number of its kind mostly is, for an empty field: an example teaches more than a range (common practice, no source). */
const EXAMPLES: Readonly<Record<string, string>> = {
  lengthMm: '16.5',
  toleranceMm: '0.05',
  clearMm: '42',
  outerMm: '56',
  massG: '120',
  backFocusMm: '55',
  datumOffsetMm: '1.5',
  magnification: '0.8',
  tunedMm: '55.4',
  uncertaintyMm: '0.03',
  instrumentErrorMm: '0.02',
  allowedGlassMm: '0.7',
  thicknessMm: '2',
  fromSkyMm: '8',
  index: '1.517',
  widthMm: '23.5',
  heightMm: '15.7',
  pixelUm: '3.76',
  apertureMm: '100',
  focalLengthMm: '600',
  minMm: '0',
  maxMm: '10',
  setMm: '2',
  stepMm: '0.1',
  gapMm: '0',
  recessMm: '4',
  rotationDeg: '90'
};

/** @param key last key of the field's path; undefined where an empty field needs no example */
export const exampleOf = (key: string): string | undefined => EXAMPLES[key];
