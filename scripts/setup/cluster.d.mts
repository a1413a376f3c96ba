export const ADMIN: string;
export const OWNER: string;
export const APP: string;
export function freePort(): Promise<number>;
export function makeDatabase(adminUrl: string, name: string): Promise<void>;
