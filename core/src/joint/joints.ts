import {
  HOST,
  cameraPort,
  isSeated,
  lengthOf,
  nameOf,
  seatOf,
  skyPort,
  type Port,
  type SeatedElement,
  type ShimElement,
  type Train
} from '../train/model.ts';

/** Where two neighbours meet, with the shims between them. */
export interface Joint {
  /** Element id on the sky side, or `host`. */
  skyId: string;
  /** Index in `elements` of the sky-side element; −1 for the host. */
  skyIndex: number;
  cameraId: string;
  cameraIndex: number;
  sky: Port | undefined;
  camera: Port | undefined;
  /** Shim elements that lie in the joint, sky side first. */
  shimElements: ShimElement[];
  /** Σ of all shims: elements and loose ones, mm. */
  shimsMm: number;
  /** A gap stands on either side: nothing is mated yet. */
  open: boolean;
  /** L − D of the threads, mm; 0 when the shoulders meet or a length is not known. */
  bottomingMm: number;
  /** How far the shoulders stand apart, mm. */
  openingMm: number;
  /** The opening was measured and overrides what threads and shims give. */
  stated: boolean;
  recessMm: number;
}

/**
 * By how much a male thread is longer than the female is deep, max(L − D, 0), mm.
 * 0 where either length is not known: a through bore has no bottom.
 */
export function bottoming(sky: Port | undefined, camera: Port | undefined): number {
  if (!sky || !camera || !('thread' in sky) || !('thread' in camera) || sky.gender === camera.gender) return 0;
  const male = sky.gender === 'male' ? sky : camera;
  const female = sky.gender === 'male' ? camera : sky;
  return male.lengthMm === undefined || female.lengthMm === undefined
    ? 0
    : Math.max(male.lengthMm - female.lengthMm, 0);
}

/**
 * How far the shoulders of a joint stand apart: max(Σ shims, L − D, 0), mm. Shims and bottoming do not
 * add up: a shim at least as thick as L − D closes the gap it would leave.
 *
 * @see handbook §3, Seating (common practice, no source)
 */
export const jointOpening = (shimsMm: number, bottomingMm: number): number => Math.max(shimsMm, bottomingMm, 0);

/** Every joint of a train, from the host to the camera. Shims lie in the joint of their nearest neighbours. */
export function jointsOf(train: Train): Joint[] {
  const joints: Joint[] = [];
  let sky: SeatedElement | undefined;
  let skyIndex = -1;
  let shimElements: ShimElement[] = [];
  const { elements, host } = train;
  for (let index = 0; index < elements.length; index++) {
    const element = elements[index]!;
    if (!isSeated(element)) {
      shimElements.push(element);
      continue;
    }
    const open = element.kind === 'gap' || sky?.kind === 'gap';
    const above = sky === undefined ? host.camera : cameraPort(sky);
    const below = skyPort(element);
    const seat = seatOf(element);
    const shimsMm =
      shimElements.reduce((sum, shim) => sum + lengthOf(shim), 0) +
      (seat?.shimsMm ?? []).reduce((sum, thickness) => sum + thickness, 0);
    const bottomingMm = open ? 0 : bottoming(above, below);
    joints.push({
      skyId: sky?.id ?? HOST,
      skyIndex,
      cameraId: element.id,
      cameraIndex: index,
      sky: above,
      camera: below,
      shimElements,
      shimsMm,
      open,
      bottomingMm,
      openingMm: seat?.gapMm ?? jointOpening(shimsMm, bottomingMm),
      stated: seat?.gapMm !== undefined,
      recessMm: seat?.recessMm ?? 0
    });
    sky = element;
    skyIndex = index;
    shimElements = [];
  }
  return joints;
}

/**
 * Length of thread that holds: min(L − opening, D), mm; undefined where the male's length is not known
 * or the joint is not threaded.
 */
export function engagement({
  sky,
  camera,
  openingMm
}: Pick<Joint, 'sky' | 'camera' | 'openingMm'>): number | undefined {
  if (!sky || !camera || !('thread' in sky) || !('thread' in camera)) return undefined;
  const male = sky.gender === 'male' ? sky : camera;
  const female = sky.gender === 'male' ? camera : sky;
  if (male.lengthMm === undefined) return undefined;
  return Math.min(male.lengthMm - openingMm, female.lengthMm ?? Infinity);
}

/** Words for the place a joint stands at: `Corrector → Guider`. */
export const jointName = (train: Train, { skyId, cameraId }: Pick<Joint, 'skyId' | 'cameraId'>): string =>
  `${nameOf(train, skyId)} → ${nameOf(train, cameraId)}`;
