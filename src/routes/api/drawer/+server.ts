import { readDrawerOf } from '$lib/server/drawer.ts';
import { LOCAL_OWNER } from '$lib/server/trains.ts';
import { json } from '@sveltejs/kit';

export const GET = async () => json(await readDrawerOf(LOCAL_OWNER));
