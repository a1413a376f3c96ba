import type { Client } from 'pg';

export function connect(connectionString: string): Promise<Client>;
