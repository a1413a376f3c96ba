import { needOwners } from '$lib/server/owners/entering.ts';

export const load = () => needOwners();
