import { DRAWER, changeStream, drawerChangeCount } from '$lib/server/live.ts';
import { eventStream } from '$lib/server/requests.ts';

export const GET = () => eventStream(changeStream(DRAWER, drawerChangeCount()));
