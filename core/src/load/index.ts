// What hangs on the host, and what it does to the faces that carry it.
export { imbalance, spreadSlots, type Imbalance, type SlotPlan, type Slotted } from './carousel.ts';
export { GRAVITY, Load, type Hanging, type LoadLimit, type LoadReport } from './load.ts';
