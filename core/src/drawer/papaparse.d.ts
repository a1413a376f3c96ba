/** The part of papaparse that is used here; its own types need Node's and the browser's. */
declare module 'papaparse' {
  interface Row {
    data: string[];
    errors: { type: string; code: string; message: string; row?: number }[];
    meta: { delimiter: string; cursor: number };
  }
  interface Options {
    delimiter?: string;
    delimitersToGuess?: string[];
    step?: (row: Row, parser: { abort(): void }) => void;
  }
  const papaparse: {
    parse(text: string, options: Options): void;
    unparse(
      rows: { fields: readonly string[]; data: readonly (readonly string[])[] },
      options?: { newline?: string }
    ): string;
  };
  export default papaparse;
}
