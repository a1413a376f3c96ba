import { registry } from '$lib/server/metrics.ts';

/** What the server counts of itself. Whoever may ask it anything may ask this: on loopback everybody, else with the token. */
export const GET = async () =>
  new Response(await registry.metrics(), {
    headers: { 'content-type': registry.contentType, 'cache-control': 'no-store' }
  });
