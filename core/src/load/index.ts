// What hangs on the host, and what it does to the faces that carry it.
export { imbalance, spreadSlots, type Imbalance } from './carousel.ts';
export { balanceOf, counterweightAt, counterweightFor, counterweightMass, placeFor, type Balance } from './balance.ts';
export { GRAVITY } from './load.ts';
export { hangFor, saggingOf, stiffnessOf, tiltOf } from './sag.ts';
