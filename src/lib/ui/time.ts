/** A calendar day where the owner is, as the format writes it. */
export const today = (now = new Date()): string =>
  [now.getFullYear(), now.getMonth() + 1, now.getDate()].map((figure) => String(figure).padStart(2, '0')).join('-');

/** This moment, ISO 8601. */
export const rightNow = (): string => new Date().toISOString();

/** A time as a person reads it: `4 min 10 s`. */
export function timeInWords(seconds: number): string {
  const whole = Math.round(seconds);
  if (whole < 60) return `${whole} s`;
  const minutes = Math.floor(whole / 60);
  if (minutes < 60) return `${minutes} min${whole % 60 === 0 ? '' : ` ${whole % 60} s`}`;
  return `${Math.floor(minutes / 60)} h ${minutes % 60} min`;
}
