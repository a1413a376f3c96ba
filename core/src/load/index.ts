// What hangs on the host, and what it does to the faces that carry it.
export { imbalance, spreadSlots, type Imbalance, type SlotPlan, type Slotted } from './carousel.ts';
export { balanceOf, counterweightAt, counterweightFor, type Balance } from './balance.ts';
export { GRAVITY, Load, momentOf, type Hanging, type LoadLimit, type LoadReport } from './load.ts';
export { saggingOf, stiffnessOf, tiltOf, type Sagging, type Stiffness } from './sag.ts';
