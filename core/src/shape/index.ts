// Where everything lies along the axis.
export * from './layout.ts';
export {
  CAROUSEL,
  depthFactor,
  partShapes,
  type Shape,
  type ShapeBox,
  type ShapeOutline,
  type ShapePoint,
  type ShapeRole
} from './partShapes.ts';
