import schema from '@lodestone/core/drawer.schema.json';
import { json } from '@sveltejs/kit';

export const GET = () => json(schema, { headers: { 'content-type': 'application/schema+json' } });
