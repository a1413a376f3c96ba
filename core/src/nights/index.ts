// Nights with a train: what was written down at the telescope, added up over a season, and before and after a change.
export { nightsOfFrames, type ArrivedNight } from './arrived.ts';
export { NIGHT_FIGURES, apart, effectsOf, type Apart, type Effect, type NightFigure } from './effects.ts';
export { filterNames, hoursOf, nightsOf, seasonOf, type NightOf, type Season } from './season.ts';
export { hoursByEvening, seasonOfTrains, type SeasonOfTrains, type TrainNights } from './trains.ts';
