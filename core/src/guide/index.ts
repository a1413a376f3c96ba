// Off-axis guiding: where the guide camera has to stand, and what it sees.
export { clashesOf, arcsInWords, freeArcs, type GuideClash } from './guide.ts';
