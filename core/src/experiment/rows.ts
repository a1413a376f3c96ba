import type { RowOrder } from '../frame/frame.ts';
import { TRAIN, type Operation } from '../train/operations.ts';
import { isCamera, type TiltPlate, type Train, type TriedSpacing } from '../train/model.ts';

type Corners = NonNullable<TriedSpacing['corners']>;

/** What was kept of a picture that turns out to have stood on its head. */
function turnedTry({ sweep, corners, ...rest }: TriedSpacing): TriedSpacing {
  const [topLeft, topRight, bottomLeft, bottomRight] = (corners ?? []).map(
    (star) => star && { ...star, angleDeg: star.angleDeg === 0 ? 0 : -star.angleDeg }
  );
  const { tiltUm } = sweep ?? {};
  return {
    ...rest,
    ...(sweep ? { sweep: { ...sweep, ...(tiltUm ? { tiltUm: [tiltUm[0]!, -tiltUm[1]!] } : {}) } } : {}),
    ...(corners ? { corners: [bottomLeft, bottomRight, topLeft, topRight] as Corners } : {})
  };
}

/** A plate whose place in the picture was found by trying: the picture is turned over, the plate is not. */
function turnedPlate(plate: TiltPlate): TiltPlate {
  if (!plate.confirmed) return plate;
  const { firstDeg = 90, mirrored = false } = plate;
  return { ...plate, firstDeg: firstDeg > 0 ? firstDeg - 180 : firstDeg + 180, mirrored: !mirrored };
}

/**
 * What makes a train know which way the rows of its camera's files run, where they do not say it. What was kept of its
 * frames is turned over with them.
 *
 * @param was order that was used until now
 * @returns undefined where the train has no camera with a sensor
 */
export function rowOrderOperation(train: Train, order: RowOrder, was: RowOrder): Operation | undefined {
  const camera = train.elements.find(isCamera);
  if (!camera?.sensor) return undefined;
  const said: Operation = { op: 'set', at: camera.id, path: ['sensor', 'rowOrder'], to: order };
  const { experiments, plate } = train.tuning ?? {};
  if (order === was) return said;
  const set = (key: string, to: unknown): Operation => ({ op: 'set', at: TRAIN, path: ['tuning', key], to });
  return {
    op: 'batch',
    operations: [
      said,
      ...(experiments ? [set('experiments', experiments.map(turnedTry))] : []),
      ...(plate ? [set('plate', turnedPlate(plate))] : [])
    ]
  };
}
