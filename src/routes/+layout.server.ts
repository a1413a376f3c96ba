export const load = ({ locals }) => ({ preferences: locals.preferences });
