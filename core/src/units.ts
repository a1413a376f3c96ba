/** The international inch, mm, exactly. */
export const MM_PER_INCH = 25.4;

/** A number whose decimals are parted by a point or a comma; NaN where the text is none. */
export const decimal = (text: string): number => Number(text.replace(',', '.'));

/**
 * The finder counts in whole tenths of a micrometre: what a document's lengths carry, and small enough that a sum
 * and an index fit together into one double.
 */
const UNITS_PER_MM = 10_000;

/** Units in a micrometre: what residuals are compared in. */
const UNITS_PER_UM = 10;

export const toUnits = (mm: number): number => Math.round(mm * UNITS_PER_MM);

export const toMm = (units: number): number => units / UNITS_PER_MM;

/** A residual in whole micrometres, without its sign. */
export const wholeUm = (units: number): number => Math.round(Math.abs(units) / UNITS_PER_UM);
