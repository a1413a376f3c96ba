/** Columns of the format, in the order they are written. */
export const CSV_COLUMNS = [
  'partId',
  'kind',
  'name',
  'lengthMm',
  'toleranceMm',
  'measuredMm',
  'measuredUncertaintyMm',
  'sky',
  'camera',
  'clearMm',
  'outerMm',
  'massG',
  'reversible',
  'removable',
  'quantity',
  'owned',
  'price',
  'location',
  'state',
  'note',
  'more'
] as const;
export type OwnColumn = (typeof CSV_COLUMNS)[number];

/** Columns people have that are no key of the format: on which face a thread sits is not said in them. */
export const FOREIGN_COLUMNS = ['femaleThread', 'maleThread'] as const;

/** What a column of a file may mean. */
export type CsvColumn = OwnColumn | (typeof FOREIGN_COLUMNS)[number];

/** Everything a column of a file may be taken for. */
export const MEANINGS: readonly CsvColumn[] = [...CSV_COLUMNS, ...FOREIGN_COLUMNS];
