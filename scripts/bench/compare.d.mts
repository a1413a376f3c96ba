export function comparison(before: string): (line: string) => string;
export function runCompared(program: string, file: string, parts: readonly string[]): Promise<number>;
