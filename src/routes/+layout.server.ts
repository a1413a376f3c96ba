import { hasOwners } from '$lib/server/owner.ts';

export const load = ({ locals: { preferences, asking }, url }) => {
  // Looked at anew with every page: at another tab somebody else may have signed in meanwhile.
  if (hasOwners()) void url.pathname;
  return {
    preferences,
    who: asking.kind === 'session' ? { owner: asking.owner, name: asking.name, keeps: asking.keeps } : undefined
  };
};
