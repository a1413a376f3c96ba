/** Why something did not work, as far as what was thrown says it. */
export const reasonOf = (error: unknown): string => (error instanceof Error ? error.message : String(error));
