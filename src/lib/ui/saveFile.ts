/** Signs that some file system takes for something else. */
const NO_NAME = /[\\/:*?"<>|\p{Cc}]+/gu;

/** Hands a file to the browser to keep. */
export function saveFile(content: Blob, name: string): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(content);
  link.download = name.replace(NO_NAME, '_');
  link.click();
  // The download has begun by then; the address is not needed any more.
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000);
}
