import type { Span } from '../length/axis.ts';

/** What of a train lies on one sheet of paper at its true size. */
export interface BenchPage extends Span {
  /** Places, among all parts, of those that lie on it, wholly or with a piece. */
  parts: number[];
}

/**
 * Parts along a train over sheets of paper: one that fits on a sheet lies on one whole, and a sheet ends where a part
 * does; one that is longer than a sheet goes on on the next. Together sheets show every millimetre of every part.
 *
 * @param parts where each lies, mm, in their order along the train
 * @param roomMm length of a sheet
 */
export function benchPages(parts: readonly Span[], roomMm: number): BenchPage[] {
  const pages: BenchPage[] = [];
  let page: BenchPage | undefined;
  for (const [at, { fromMm, toMm }] of parts.entries()) {
    if (page && toMm - page.fromMm <= roomMm) {
      page.parts.push(at);
      page.toMm = Math.max(page.toMm, toMm);
      continue;
    }
    for (let from = fromMm; ; from += roomMm) {
      page = { fromMm: from, toMm: Math.min(toMm, from + roomMm), parts: [at] };
      pages.push(page);
      if (from + roomMm >= toMm) break;
    }
  }
  return pages;
}
