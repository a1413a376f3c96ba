// Angles and random draws that screens and tests need too.
export { RAD, degrees, radians } from './angles.ts';
export { normalOf } from './random.ts';
