/** Everybody who uses this server, until there is more than one person: `locals.owner` is where routes ask. */
export const LOCAL_OWNER = 'local';
