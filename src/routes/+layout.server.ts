export const load = ({ locals: { preferences, asking } }) => ({
  preferences,
  who: asking.kind === 'session' ? { owner: asking.owner, name: asking.name, keeps: asking.keeps } : undefined
});
