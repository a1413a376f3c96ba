// How sentences are written (the table of words in the design’s voice): every text a person may read, wherever it lies.
import { readFileSync, readdirSync } from 'node:fs';
import { join } from 'node:path';
import { parse } from 'svelte/compiler';
import ts from 'typescript';
import { describe, expect, it } from 'vitest';

const ROOT = new URL('../../', import.meta.url).pathname;
const SOURCES = ['core/src', 'cli/src', 'src'];

/** Words that are not used, and what is. */
const REFUSED: readonly (readonly [RegExp, string])[] = [
  [/\breckon(ed|ing|s)?\b/i, 'calculated'],
  [/\b(asks?|asked) for\b/i, 'required'],
  [/\bstands?\b|\bstood\b/i, 'is'],
  [/\b(lies|lie)\b/i, 'is'],
  [/\boff by\b/i, 'error'],
  [/\bforgives?\b/i, 'tolerance'],
  [/\brings to find\b|\bopen places?\b/i, 'gap'],
  [/\b(take|taken|takes|taking) (\S+ ){0,4}(out|away)\b/i, 'remove'],
  [/\bleft out\b/i, 'excluded'],
  [/\bexchange\b/i, 'replace'],
  [/\bbring (\S+ ){0,2}in\b|\btake along\b/i, 'import, take'],
  [/\bonly looked at\b/i, 'preview'],
  [/\bcircling\b/i, 'tangential'],
  [/\b(step (before|after)|not done after all)\b/i, 'previous, next, not done'],
  [/\b(says|tells|wants|knows|is told)\b/i, 'states, shows, needs'],
  [/\b(give or take|anew|thereof|otherwise)\b/i, 'plain words'],
  [/\bcomes? to focus\b/i, 'reaches focus'],
  [/\bnothing here\b.*\bspeaks\b/i, 'plain words'],
  [/\bhow fine the faults\b|\bthat is it\b/i, 'difficulty, submit'],
  [/\bnight °C\b|\bin the cold\b/i, 'observing temperature']
];

/** Texts that are no sentences, or quote a person or a format. */
const SPARED: readonly RegExp[] = [
  // Keys that the document and the command line keep.
  /^(outward|circling)$/,
  /--wants/
];

function* filesIn(folder: string): Generator<string> {
  for (const entry of readdirSync(join(ROOT, folder), { withFileTypes: true })) {
    const path = `${folder}/${entry.name}`;
    if (entry.isDirectory()) {
      if (entry.name !== 'generated' && entry.name !== 'testing') yield* filesIn(path);
    } else if (/\.(ts|svelte)$/.test(entry.name) && !entry.name.endsWith('.test.ts')) yield path;
  }
}

/** Strings of a program, those of templates without what is put into them. */
function stringsOf(source: string): string[] {
  const found: string[] = [];
  const visit = (node: ts.Node): void => {
    if (ts.isImportDeclaration(node) || ts.isExportDeclaration(node)) return;
    if (ts.isStringLiteralLike(node)) found.push(node.text);
    if (ts.isTemplateExpression(node)) {
      found.push([node.head.text, ...node.templateSpans.map(({ literal }) => literal.text)].join(' … '));
    }
    ts.forEachChild(node, visit);
  };
  visit(ts.createSourceFile('source.ts', source, ts.ScriptTarget.ESNext, true));
  return found;
}

/** Attributes whose words are read, or read aloud. */
const READ_ATTRIBUTES = new Set(['title', 'label', 'placeholder', 'alt', 'aria-label', 'hint']);

interface SvelteNode {
  type: string;
  name?: string;
  data?: string;
  [key: string]: unknown;
}

/** Text with what is put into it as one: words on both sides of a value belong together. */
function sentencesOf(nodes: readonly SvelteNode[]): string[] {
  const words = nodes.map(({ type, data }) =>
    type === 'Text' ? (data ?? '') : type === 'ExpressionTag' ? ' … ' : '\n'
  );
  return words.some((each) => each === ' … ') ? words.join('').split('\n') : [];
}

/** What of a component is read: its text, its labels, and the strings in it. */
function textsOf(source: string): string[] {
  const { fragment, instance, module } = parse(source, { modern: true });
  const found: string[] = [];
  const visit = (node: unknown, attribute?: string): void => {
    if (Array.isArray(node)) {
      if (attribute === undefined || READ_ATTRIBUTES.has(attribute)) found.push(...sentencesOf(node as SvelteNode[]));
      for (const each of node) visit(each, attribute);
    }
    if (typeof node !== 'object' || node === null || Array.isArray(node)) return;
    const { type, name, data, ...rest } = node as SvelteNode;
    if (type === 'Comment') return;
    if (type === 'Text' && (attribute === undefined || READ_ATTRIBUTES.has(attribute))) found.push(data ?? '');
    if (type === 'ExpressionTag' || type === 'IfBlock' || type === 'EachBlock' || type === 'RenderTag') {
      const { expression, test } = rest as { expression?: { start: number; end: number }; test?: typeof expression };
      for (const each of [expression, test]) {
        const isRead = attribute === undefined || READ_ATTRIBUTES.has(attribute);
        if (each && isRead) found.push(...stringsOf(`(${source.slice(each.start, each.end)})`));
      }
    }
    const inside = type === 'Attribute' ? name : attribute;
    for (const [key, value] of Object.entries(rest)) if (key !== 'parent') visit(value, inside);
  };
  visit(fragment);
  for (const script of [instance, module]) {
    if (!script) continue;
    const { start, end } = script.content as unknown as { start: number; end: number };
    found.push(...stringsOf(source.slice(start, end)));
  }
  return found;
}

/** What a file says that is refused, with what to say. */
const faultsOf = (texts: readonly string[]): string[] =>
  texts
    .map((text) => text.replace(/\s+/g, ' ').trim())
    .filter((text) => / /.test(text) && !SPARED.some((spared) => spared.test(text)))
    .flatMap((text) =>
      // What stands in quotation marks was said by somebody else.
      REFUSED.flatMap(([refused, use]) => (refused.test(text.replace(/“[^”]*”/g, '')) ? [`“${text}”: ${use}`] : []))
    );

describe.each(SOURCES)('every sentence of %s', (folder) => {
  it('uses the words of the field, one for a thing', () => {
    const faults = [...filesIn(folder)].flatMap((path) => {
      const source = readFileSync(join(ROOT, path), 'utf8');
      const texts = path.endsWith('.svelte') ? textsOf(source) : stringsOf(source);
      return faultsOf(texts).map((fault) => `${path}: ${fault}`);
    });
    expect(faults).toEqual([]);
  });
});

describe('the test itself', () => {
  it('finds a refused word in a string, a template, a text and a label, and in nothing else', () => {
    expect(
      faultsOf(stringsOf("// it stands here\nconst a = 'It stands here.', b = `It lies ${a} there.`;"))
    ).toHaveLength(2);
    const component =
      '<script>let a;</script><p title="It stands here." class="stands here">It lies {a} {"It wants it"}.</p>';
    expect(new Set(faultsOf(textsOf(component))).size).toBeGreaterThanOrEqual(3);
    expect(faultsOf(textsOf('<b aria-label="Take {name} away">Take {name} away</b>'))).toHaveLength(2);
    expect(faultsOf(['He said “it stands here”.', 'Standard deviation of the whole'])).toEqual([]);
  });
});
