/** A time as it is planned: minutes, or hours to a tenth. */
export const hoursInWords = (minutes: number): string =>
  minutes < 60 ? `${Number(minutes.toFixed(1))} min` : `${(minutes / 60).toFixed(1)} h`;
