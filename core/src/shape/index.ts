// Where everything lies along the axis.
export {
  CAMERA_BODY_BEHIND_MM,
  HOST_STUB_MM,
  atOrigin,
  commonScale,
  layoutOf,
  partShape,
  type Layout,
  type LayoutItem,
  type LayoutJoint
} from './layout.ts';
export { faceOf, type FaceOpening } from './face.ts';
export { RAIL_LAYERS, guideLayer, lightLayer, loadLayer, type RailLayer, type Stop } from './railLayers.ts';
export {
  deepestOf,
  depthFactor,
  partShapes,
  offOutlines,
  type Shape,
  type ShapePoint,
  type ShapeRole
} from './partShapes.ts';
export { benchPages, type BenchPage } from './benchPages.ts';
export { placeLabels, placeLedLabels } from './labels.ts';
