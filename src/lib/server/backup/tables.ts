// What a backup holds: every table with an owner, row by row, in an order in which each finds what it refers to.

/** A table as a backup has it. */
export interface BackedTable {
  name: string;
  /** Columns that order its rows, the same at every time. */
  key: readonly string[];
  /** Columns that are not written: made by the database itself, or of this installation alone. */
  leave?: readonly string[];
  /** What is written beside its columns: SQL over the row `t`, by key. */
  beside?: Readonly<Record<string, string>>;
  /** What a row belongs to: it is restored with that, or not at all. */
  of: 'train' | 'part' | 'owner';
}

/** Where a part lies, as a path: numbers of places are of this installation alone. */
const PLACE = `(with recursive up as (
    select id, parent_id, name, 1 as depth from location where location.owner = t.owner and id = t.location_id
    union all
    select location.id, location.parent_id, location.name, depth + 1
      from location join up on location.id = up.parent_id where location.owner = t.owner
  ) select string_agg(name, ' / ' order by depth desc) from up)`;

export const TABLES: readonly BackedTable[] = [
  { name: 'train', key: ['id'], of: 'train' },
  { name: 'train_revision', key: ['train_id', 'number'], leave: ['previous'], of: 'train' },
  { name: 'revision_name', key: ['train_id', 'number'], of: 'train' },
  { name: 'share_link', key: ['id'], of: 'train' },
  { name: 'part', key: ['part_id'], leave: ['location_id'], beside: { place: PLACE }, of: 'part' },
  { name: 'part_copy', key: ['part_id', 'copy'], of: 'part' },
  { name: 'measurement', key: ['part_id', 'position'], of: 'part' },
  { name: 'part_photo', key: ['part_id'], of: 'part' },
  { name: 'assembly', key: ['train_id'], of: 'train' },
  { name: 'holding', key: ['part_id', 'copy'], of: 'train' },
  { name: 'build_record', key: ['train_id', 'number'], of: 'train' },
  { name: 'record_photo', key: ['record_id', 'position'], of: 'train' },
  { name: 'frame', key: ['train_id', 'number'], of: 'train' },
  { name: 'frame_piece', key: ['frame_id', 'position'], of: 'train' },
  { name: 'scan', key: ['hash'], of: 'owner' },
  { name: 'setting', key: ['demo_at'], leave: ['backup_at', 'backup_failure'], of: 'owner' }
];

/** Tables that stay out of a backup, each for a reason. */
export const NOT_BACKED: Readonly<Record<string, string>> = {
  location: 'parts have their place as a path',
  drawer_state: 'a number of this installation alone',
  drawer_change: 'ids of changes that were carried out here',
  due: 'work that is due here',
  simulated_focuser: 'a device that is played',
  account: 'how one signs in belongs to the server, and so do the next four',
  keeper: 'as account',
  passkey: 'as account',
  session: 'as account',
  access_token: 'as account',
  train_guest: 'with whom a train is shared belongs to the server too'
};

/** The file of a table in the archive. */
export const fileOf = ({ name }: Pick<BackedTable, 'name'>): string => `data/${name}.ndjson`;

export const MANIFEST = 'manifest.json';
