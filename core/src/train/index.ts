// The train document: what it is, how it is read, changed, combined and written.
export { SOURCE_OF_WORDS, publishedBy, sourceInWords, type SourceOf } from './sources.ts';
export { removalOf, shiftOf } from './several.ts';
export {
  GLASS_RULES,
  HOST,
  HOST_KIND_WORDS,
  KINDS,
  canBeMade,
  KIND_CHOICES,
  adjustOf,
  bareLengthOf,
  behindDatumMm,
  cameraPort,
  correctorOf,
  findElement,
  focalRatio,
  glassOf,
  isBody,
  isCamera,
  isElementKind,
  isHostKind,
  isSeated,
  isShim,
  isSolid,
  lengthOf,
  nameOf,
  partIdOf,
  partIdsOf,
  piecesMm,
  rowOrderOf,
  skyPort,
  standingIn,
  type Attached,
  type BodyElement,
  type Cable,
  type CameraElement,
  type Corrector,
  type Detachable,
  type Element,
  type ElementKind,
  type Exposures,
  type Fastener,
  type FocusAttempt,
  type FocusRun,
  type Framing,
  type GapElement,
  type Gender,
  type Glass,
  type GlassRule,
  type Group,
  type Holder,
  type Host,
  type Night,
  type HostRow,
  type Pickoff,
  type Port,
  type PublishedFigure,
  type PublishedLength,
  type SagTest,
  type SolidElement,
  type Source,
  type ThreadPort,
  type TiltPlate,
  type Train,
  type TriedSpacing
} from './model.ts';
export { partsAsText, readPartsText } from './clipboard.ts';
export { startedFrom } from './template.ts';
export { detachablesOf, faceOfPiece, hostPort, takenOffMm, type Face } from './detachable.ts';
export { pieceChanges, withPieceTurned, type PieceChange } from './pieces.ts';
export { operationToward } from './toward.ts';
export { OperationError, TRAIN, apply, changedElement, inverse, type Operation } from './operations.ts';
export { forcedOnto, rebaseOnto, type Clash } from './merge.ts';
export { upgrade, withPlainTexts } from './upgrade.ts';
export { isRecord } from './isRecord.ts';
export { sameJson } from './sameJson.ts';
export { fieldOf } from './fields.ts';
export {
  complaintInWords,
  complaintLine,
  complaintsFrom,
  placeInWords,
  valueInWords,
  type Complaint
} from './complain.ts';
export { MAX_DOCUMENT_CHARS, readElement, readTrain, type Reading } from './read.ts';
export { duplicateKey, readTrainText } from './readText.ts';
