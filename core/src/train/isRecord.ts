/** Whether a JSON value is an object with keys, and neither a list nor nothing. */
export const isRecord = (candidate: unknown): candidate is Record<string, unknown> =>
  typeof candidate === 'object' && candidate !== null && !Array.isArray(candidate);
