export function invite(
  connectionString: string,
  whom?: { name?: string; onlyFirst?: boolean }
): Promise<string | undefined>;
