import type { BodyElement, Corrector, Host, Port } from '../train/model.ts';

/** Of a host nobody has named. */
const UNNAMED_HOST = 'My telescope';
const UNNAMED_LENS = 'My lens';

export const unnamedHost = (kind: Host['kind']): string => (kind === 'camera-lens' ? UNNAMED_LENS : UNNAMED_HOST);

/** Whether nobody has named a host. */
export const isUnnamed = ({ name, kind }: Pick<Host, 'name' | 'kind'>): boolean => name === unnamedHost(kind);

/** “0.8” is a magnification people know a reducer by: no corrector requires less than this, mm (common practice, no source). */
export const LEAST_BACK_FOCUS_MM = 5;

/** Length of a corrector's body, mm: it does not count. */
const BODY_MM = 30;

/** A corrector of which only its demands are known, and maybe its camera face. */
export const begunCorrector = (name: string, asks: Corrector, camera?: Port): BodyElement => ({
  id: 'corrector',
  kind: 'corrector',
  name: name || 'My corrector',
  lengthMm: BODY_MM,
  note: 'Length of its body: not needed for back focus, so only a guess.',
  corrector: asks,
  ...(camera ? { camera } : {})
});
