/** Folder with the programs of the PostgreSQL server. */
export function ensurePostgres(say: (line: string) => void): Promise<string>;
