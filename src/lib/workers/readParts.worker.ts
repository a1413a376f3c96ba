import { reasonOf } from '../api/reason.ts';
import { complaintLine } from '@lodestone/core/train';
import {
  guessMapping,
  readCsv,
  splitCsv,
  type CsvColumn,
  type CsvOptions,
  type CsvProblem,
  type CsvTable,
  type SplitOptions
} from '@lodestone/core/drawer-csv';
import { readDrawerText, type Part } from '@lodestone/core/drawer';
import { expose } from 'comlink';

/** What a file turned out to be. */
export type Opened =
  | {
      kind: 'csv';
      header: string[];
      mapping: (CsvColumn | undefined)[];
      sample: string[][];
      delimiter: string;
      lines: number;
    }
  | { kind: 'parts'; parts: Part[] }
  | { kind: 'refused'; messages: string[]; isTable: boolean };

export interface Read {
  parts: Part[];
  problems: CsvProblem[];
}

const SAMPLE_ROWS = 3;
const MOST_COMPLAINTS = 200;

let text = '';
let table: CsvTable | undefined;
let stored: ReadonlyMap<string, Part> = new Map();

const refused = (messages: string[], isTable = false): Opened => ({ kind: 'refused', messages, isTable });

/** Reads files of parts away from the page, which goes on answering. */
const reader = {
  /**
   * Looks at a file: a drawer document, or a table whose columns have to be understood.
   *
   * @param there the parts the drawer has already
   */
  open(content: string, there: readonly Part[]): Opened {
    text = content;
    table = undefined;
    stored = new Map(there.map((part) => [part.partId, part]));
    if (!/^\uFEFF?\s*[{[]/.test(text)) return reader.split({});
    const reading = readDrawerText(text);
    if (reading.ok) return { kind: 'parts', parts: reading.document };
    return /"lodestone"\s*:\s*"train\//.test(text)
      ? refused(['This is a train, not a drawer: import it on the trains page.'])
      : refused(reading.complaints.slice(0, MOST_COMPLAINTS).map(complaintLine));
  },

  /** Parts the table of the file that was opened last anew. */
  split(options: SplitOptions): Opened {
    try {
      table = splitCsv(text, options);
    } catch (error) {
      return refused([reasonOf(error)]);
    }
    const { header, rows, delimiter } = table;
    if (rows.length === 0 || header.length === 0) {
      return refused(['There is no table in this file: a heading line and at least one part are needed.']);
    }
    if (header.length < 2) {
      return refused(['No separator found in this file. Choose one, if it is a table.'], true);
    }
    return {
      kind: 'csv',
      header,
      mapping: guessMapping(header),
      sample: rows.slice(0, SAMPLE_ROWS).map(({ cells }) => cells),
      delimiter,
      lines: rows.length
    };
  },

  /** Reads the table, its columns understood as said. */
  read(mapping: (CsvColumn | undefined)[], options: Pick<CsvOptions, 'kind' | 'kinds' | 'decimalSign'>): Read {
    if (!table) return { parts: [], problems: [] };
    const { parts, problems } = readCsv(table, mapping, { ...options, stored, taken: new Set(stored.keys()) });
    return { parts, problems };
  }
};

export type PartsReader = typeof reader;
expose(reader);
