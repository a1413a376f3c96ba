/** So many bytes tell how the others are meant. */
const LOOKED_AT = 2000;

/** Two bytes a letter without a mark that says so: of Latin letters every other one is nothing. */
function wideWithoutMark(bytes: Uint8Array): 'utf-16le' | 'utf-16be' | undefined {
  const start = bytes.subarray(0, LOOKED_AT);
  const empty = [0, 0];
  start.forEach((byte, at) => byte === 0 && empty[at % 2]!++);
  const most = 0.7 * Math.floor(start.length / 2);
  if (start.length < 8) return undefined;
  if (empty[1]! > most && empty[0] === 0) return 'utf-16le';
  return empty[0]! > most && empty[1] === 0 ? 'utf-16be' : undefined;
}

/** Text of a file in whatever encoding it is, and a word of doubt where it is not UTF-8. */
export function decodeFile(bytes: Uint8Array): { text: string; doubt: string | undefined } {
  const [first, second] = bytes;
  const wide = wideWithoutMark(bytes);
  if (wide) return { text: new TextDecoder(wide).decode(bytes), doubt: undefined };
  if (first === 0xff && second === 0xfe) return { text: new TextDecoder('utf-16le').decode(bytes), doubt: undefined };
  if (first === 0xfe && second === 0xff) return { text: new TextDecoder('utf-16be').decode(bytes), doubt: undefined };
  try {
    return { text: new TextDecoder('utf-8', { fatal: true }).decode(bytes), doubt: undefined };
  } catch {
    return {
      text: new TextDecoder('windows-1252').decode(bytes),
      doubt: 'The file is not UTF-8; it was read as Windows-1252. Look whether names with accents are right.'
    };
  }
}
