/** Largest picture that is sent, bytes; the server takes no larger ones. */
const MAX_BYTES = 20 * 1024 * 1024;

/** Why a file is not sent at all; undefined where it may be. */
export const tooLarge = ({ name, size }: File): string | undefined =>
  size > MAX_BYTES ? `${name} has ${(size / 1e6).toFixed(0)} MB; a photo may have 20.` : undefined;
