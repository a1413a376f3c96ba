/** Text of a file in whatever encoding it is, and a word of doubt where it is not UTF-8. */
export function decodeFile(bytes: Uint8Array): { text: string; doubt: string | undefined } {
  const [first, second] = bytes;
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
