import { readDrawerOf } from '$lib/server/drawer.ts';
import { json } from '@sveltejs/kit';

export const GET = async ({ locals }) => json(await readDrawerOf(locals.owner));
