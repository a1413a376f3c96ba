// What the service worker shows of every page while the server is away: no page of its own, it takes that of its address.
export const ssr = false;
