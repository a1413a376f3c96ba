// Off-axis guiding: where the guide camera has to stand, and what it sees.
export {
  Guide,
  clashesOf,
  guideOf,
  type GuideClash,
  type GuideMissing,
  type GuideReport,
  type GuideVerdict
} from './guide.ts';
