/** Pieces of a file as they come, and how far it is; what is not asked for is not read. */
export async function* pieces(file: Blob, tell: (share: number) => void = () => {}): AsyncGenerator<Uint8Array> {
  const reader = file.stream().getReader();
  let read = 0;
  try {
    for (;;) {
      const { done, value } = await reader.read();
      if (done) return;
      yield value;
      read += value.length;
      tell(read / file.size);
    }
  } finally {
    await reader.cancel();
  }
}
