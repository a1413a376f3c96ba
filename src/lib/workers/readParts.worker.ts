import { complaintLine } from '@lodestone/core';
import {
  guessMapping,
  readCsv,
  splitCsv,
  type CsvColumn,
  type CsvProblem,
  type CsvTable
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
  | { kind: 'refused'; messages: string[] };

export interface Read {
  parts: Part[];
  problems: CsvProblem[];
}

const SAMPLE_ROWS = 3;
const MOST_COMPLAINTS = 200;

let table: CsvTable | undefined;

/** Reads files of parts away from the page, which goes on answering. */
const reader = {
  /** Looks at a file: a drawer document, or a table whose columns have to be understood. */
  open(text: string): Opened {
    table = undefined;
    if (/^\uFEFF?\s*[{[]/.test(text)) {
      const reading = readDrawerText(text);
      return reading.ok
        ? { kind: 'parts', parts: reading.document }
        : { kind: 'refused', messages: reading.complaints.slice(0, MOST_COMPLAINTS).map(complaintLine) };
    }
    try {
      table = splitCsv(text);
    } catch (error) {
      return { kind: 'refused', messages: [error instanceof Error ? error.message : String(error)] };
    }
    const { header, rows, delimiter } = table;
    if (header.length < 2 || rows.length === 0) {
      return {
        kind: 'refused',
        messages: ['There is no table in this file: a heading line and at least one part are needed.']
      };
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

  /** Reads the table that was opened last, its columns understood as said. */
  read(mapping: (CsvColumn | undefined)[], taken: string[], kind: Part['element']['kind'] | undefined): Read {
    if (!table) return { parts: [], problems: [] };
    const { parts, problems } = readCsv(table, mapping, { taken: new Set(taken), ...(kind ? { kind } : {}) });
    return { parts, problems };
  }
};

export type PartsReader = typeof reader;
expose(reader);
