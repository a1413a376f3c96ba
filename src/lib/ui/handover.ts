/** Files that were dropped on a page that is not for them: the page that is takes them over. */
let handed: FileList | undefined;

/** Which page a file is for, by its content and its name; undefined: none. */
export async function pageFor(file: File): Promise<'/' | '/drawer' | undefined> {
  const HEAD_BYTES = 2000;
  const head = await file.slice(0, HEAD_BYTES).text();
  const kind = /"lodestone"\s*:\s*"(train|drawer)\//.exec(head)?.[1];
  if (kind !== undefined) return kind === 'train' ? '/' : '/drawer';
  if (/\.(csv|tsv)$/i.test(file.name)) return '/drawer';
  return undefined;
}

export function handOver(files: FileList): void {
  handed = files;
}

/** What was handed over to the page that asks, once. */
export function takeHanded(): FileList | undefined {
  const files = handed;
  handed = undefined;
  return files;
}
