import {
  cameraPort,
  isSeated,
  skyPort,
  type BodyElement,
  type CameraElement,
  type Element,
  type ElementKind,
  type Host,
  type Operation,
  type Port,
  type Train
} from '@lodestone/core/train';
import { placedPart, type Part } from '@lodestone/core/drawer';
import { counterpart, fitAt } from '@lodestone/core/joint';

export const newId = (): string => crypto.randomUUID().slice(0, 8);

/** The faces between which a part would stand before `before`: what its neighbours offer it. */
export function neighboursAt(train: Train, before: string): { above: Port | undefined; below: Port | undefined } {
  const index = train.elements.findIndex(({ id }) => id === before);
  const solid = (element: Element): boolean => isSeated(element) && element.kind !== 'gap';
  const sky = train.elements.slice(0, index).findLast(solid);
  const camera = train.elements.slice(index).find(solid);
  return { above: sky ? cameraPort(sky) : train.host.camera, below: camera && skyPort(camera) };
}

/** What puts a part of the drawer before an element, turned round where it joins only so. */
export function placingBefore(train: Train, part: Part, before: string): Operation & { op: 'insert' } {
  const { above, below } = neighboursAt(train, before);
  const reversed = fitAt(part.element, above, below)?.reversed ?? false;
  return { op: 'insert', element: placedPart(part, { id: newId(), reversed }), before };
}

/**
 * Faces that a part needs to stand before `before`: what its neighbours screw to, of any length; assumed until somebody
 * looks at the part.
 */
export function facesAt(train: Train, before: string): { sky: Port | undefined; camera: Port | undefined } {
  const { above, below } = neighboursAt(train, before);
  const needed = (neighbour: Port | undefined): Port | undefined =>
    neighbour && { ...counterpart(neighbour), assumed: true };
  return { sky: needed(above), camera: needed(below) };
}

export interface PartDraft {
  kind: ElementKind;
  name: string;
  lengthMm: number;
  toleranceMm?: number | undefined;
  sky?: Port | undefined;
  camera?: Port | undefined;
}

/** An element of any kind from what the add form asks for. */
export function elementFrom({ kind, name, lengthMm, toleranceMm, sky, camera }: PartDraft, id = newId()): Element {
  const length = { lengthMm, ...(toleranceMm === undefined ? {} : { toleranceMm }) };
  const faces = { ...(sky ? { sky } : {}), ...(camera ? { camera } : {}) };
  switch (kind) {
    case 'gap':
      return { id, kind, name };
    case 'shim':
      return { id, kind, name, ...length };
    case 'camera':
      return { id, kind, name, ...length, ...(sky ? { sky } : {}) } satisfies CameraElement;
    default:
      return { id, kind, name, ...length, ...faces } satisfies BodyElement;
  }
}

export interface TrainStart {
  name: string;
  host: Host;
  corrector: BodyElement | undefined;
  camera: CameraElement;
}

/** Name of the place where rings are still to be found. */
export const OPEN_PLACE = 'Gap';

/** A first train: host, corrector, an open place for what comes between, camera. */
export const startTrain = ({ name, host, corrector, camera }: TrainStart): Train => ({
  lodestone: 'train/1',
  name,
  host,
  elements: [
    ...(corrector ? [{ ...corrector, id: 'corrector' }] : []),
    { id: 'rings', kind: 'gap', name: OPEN_PLACE },
    { ...camera, id: 'camera' }
  ]
});
