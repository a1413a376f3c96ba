/** The international inch, mm, exactly. */
export const MM_PER_INCH = 25.4;
