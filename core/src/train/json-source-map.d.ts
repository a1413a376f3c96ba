declare module 'json-source-map' {
  interface Place {
    line: number;
    column: number;
    pos: number;
  }
  export function parse(source: string): {
    data: unknown;
    pointers: Record<string, { key?: Place; value: Place; valueEnd: Place }>;
  };
}
