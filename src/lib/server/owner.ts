/** Everybody who uses this server, where it is one person; of several, who was there first. */
export const LOCAL_OWNER = 'local';

/** Whether everybody signs in; else one person uses the server, and whoever reaches it is that one. */
export const hasOwners = (): boolean => process.env.LODESTONE_OWNERS === 'several';
