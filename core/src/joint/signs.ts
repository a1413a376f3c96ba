/** Signs that stand for a plainer one; each for one, so that places in the text stay what they are. */
const PLAIN_SIGNS: readonly (readonly [RegExp, string])[] = [
  [/[\u00a0\u2007\u2009\u202f\t]/g, ' '],
  [/[\u2010-\u2012\u2212\ufe58\uff0d]/g, '-'],
  [/[“”„‟＂]/g, '"'],
  [/[’‘′]/g, "'"],
  [/Ｘ|ｘ|✕|⨯/g, '×']
];

/** A text with the signs that a keyboard has. */
export const plainSigns = (text: string): string =>
  PLAIN_SIGNS.reduce((plain, [signs, sign]) => plain.replace(signs, sign), text);
