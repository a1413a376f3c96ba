// Where everything lies along the axis.
export * from './layout.ts';
export { faceOf, type Face, type FaceOpening, type FacePrism } from './face.ts';
export { RAIL_LAYERS, guideLayer, lightLayer, loadLayer, type RailLayer, type Stop } from './railLayers.ts';
export {
  CAROUSEL,
  deepestOf,
  depthFactor,
  partShapes,
  type Shape,
  type ShapeBox,
  type ShapeOutline,
  type ShapePoint,
  type ShapeRole
} from './partShapes.ts';
