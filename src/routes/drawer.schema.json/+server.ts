import { servedDrawerSchema } from '@lodestone/core/drawer';
import { json } from '@sveltejs/kit';

export const GET = () => json(servedDrawerSchema(), { headers: { 'content-type': 'application/schema+json' } });
