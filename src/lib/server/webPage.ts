// A train as one page that needs nothing else: no script, no server, no network.
import { DAY, formatted } from '$lib/api/day.ts';
import { createHash } from 'node:crypto';
import { assemblySheet } from '@lodestone/core/assembly';
import { assess, explain, nextStep, type Assessment } from '@lodestone/core/check';
import { portInWords } from '@lodestone/core/joint';
import { offOutlines, partShapes, type Shape, type ShapePoint } from '@lodestone/core/shape';
import { layoutOf, placeLabels } from '@lodestone/core/shape';
import { KINDS, cameraPort, isSolid, lengthOf, skyPort, type Train } from '@lodestone/core/train';
import { formatLength, quantityInWords, type Explanation, type LengthUnit, type Subject } from '@lodestone/core/why';

const STYLE = `
body{font:16px/1.5 system-ui,sans-serif;color:#1c2127;background:#faf9f6;max-width:60rem;margin:2rem auto;padding:0 1rem}
h1{font-size:1.6rem;margin:0}h2{font-size:1.1rem;margin:2rem 0 .5rem}
.verdict{font-size:1.4rem;font-weight:600;margin:.25rem 0}.good{color:#17634f}.bad{color:#9c2a1a}
.quiet{color:#5d6570}figure{margin:1rem 0;overflow-x:auto}svg{display:block;min-width:36rem;width:100%;height:auto}
table{border-collapse:collapse;width:100%}td,th{text-align:left;vertical-align:top;padding:.25rem .75rem .25rem 0;border-bottom:1px solid #ddd8ce}
td.n,th.n{text-align:right;white-space:nowrap;font-variant-numeric:tabular-nums}tr.sum td{font-weight:600}
li{margin:.25rem 0}.note{white-space:pre-line;overflow-wrap:anywhere}td,p,li{overflow-wrap:anywhere}
@media(max-width:40rem){table{display:block;overflow-x:auto}}
@media print{body{margin:0;max-width:none}h2{break-after:avoid}tr,li,figure{break-inside:avoid}}
`.trim();

/** What a page of this kind may do: nothing but look as it does. */
export const PAGE_POLICY = `default-src 'none'; style-src 'sha256-${createHash('sha256').update(STYLE).digest('base64')}'; frame-ancestors 'none'; base-uri 'none'; form-action 'none'`;

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (mark) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[mark]!);

/** A day, the same for every reader: nobody knows where one sits. */
const day = (at: string): string => formatted(at, { ...DAY, timeZone: 'UTC' });

/** How each kind of shape looks: what fills it, what its line is. */
const LOOKS: Readonly<Partial<Record<Shape['role'], string>>> = {
  outside: 'fill="#d9d5cb" stroke="#6f6a60"',
  cut: 'fill="#b9b4a8" stroke="#6f6a60"',
  groove: 'fill="none" stroke="#c2bcae"',
  dial: 'fill="#8d877a" stroke="#6f6a60"',
  'dial-mark': 'fill="none" stroke="#6f6a60"',
  glass: 'fill="#b7d8de" fill-opacity=".8" stroke="#3b7f8c"',
  stalk: 'fill="#b9b4a8" stroke="#6f6a60"',
  bore: 'fill="#faf9f6"',
  sensor: 'fill="#9a4a12"',
  gap: 'fill="none" stroke="#9c2a1a"',
  seam: 'fill="none" stroke="#6f6a60"',
  'piece-off': 'fill="none" stroke="#1c2127" stroke-dasharray="2 2"'
};

const WIDTH = 960;
const HEIGHT = 300;
const EDGE = 16;
/** Room above the train for the numbers of its parts, and below for the two planes. */
const ROOM = 40;

/** The train to scale, its parts numbered, with the sensor and where it should be. */
function drawing({ train, ledger, facts }: Assessment, unit: LengthUnit): string {
  const layout = layoutOf(train, ledger, facts.axis);
  const { fromMm, toMm } = layout.extent;
  const along = (WIDTH - 2 * EDGE) / (toMm - fromMm);
  const across = Math.min(along, (HEIGHT - 2 * ROOM) / (2.3 * layout.maxRadiusMm));
  const axis = HEIGHT / 2;
  const x = (mm: number): string => (EDGE + (mm - fromMm) * along).toFixed(1);
  const y = (mm: number): string => (axis - mm * across).toFixed(1);
  const point = ([mm, high]: ShapePoint): string => `${x(mm)} ${y(high)}`;
  const drawn = (shape: Shape): string => {
    const look = LOOKS[shape.role] ?? 'fill="none" stroke="#6f6a60"';
    if (shape.kind === 'box') {
      const width = Math.max((shape.toMm - shape.fromMm) * along, 0.5).toFixed(1);
      const height = Math.max((shape.highMm - shape.lowMm) * across, 0.5).toFixed(1);
      return `<rect x="${x(shape.fromMm)}" y="${y(shape.highMm)}" width="${width}" height="${height}" ${look}/>`;
    }
    const runs = shape.runs.map(({ to, via }) => (via ? `Q${point(via)} ${point(to)}` : `L${point(to)}`)).join('');
    return `<path d="M${point(shape.start)}${runs}${shape.closed ? 'Z' : ''}" ${look}/>`;
  };
  const numbered = layout.items
    .map((item, index) => ({ item, number: index + 1 }))
    .filter(({ item }) => item.kind !== 'gap');
  const places = placeLabels(
    numbered.map(({ item, number }) => ({
      at: EDGE + ((item.fromMm + item.toMm) / 2 - fromMm) * along,
      width: 8 + 8 * String(number).length
    })),
    0,
    WIDTH,
    2
  );
  const numbers = numbered.map(
    ({ number }, index) =>
      `<text x="${places[index]!.middle.toFixed(1)}" y="${ROOM - 12 - 13 * places[index]!.row}" text-anchor="middle" font-size="12">${number}</text>`
  );
  const plane = (mm: number, words: string, colour: string, row: number): string =>
    `<path d="M${x(mm)} ${ROOM - 6}V${HEIGHT - ROOM + 6}" stroke="${colour}" stroke-width="1.5"/>` +
    `<text x="${x(mm)}" y="${HEIGHT - ROOM + 20 + 14 * row}" text-anchor="middle" font-size="12" fill="${colour}">${words}</text>`;
  const planes = [
    plane(layout.sensorMm, `sensor ${formatLength(layout.sensorMm, unit)}`, '#9a4a12', 0),
    ...(layout.requiredMm === null
      ? []
      : [plane(layout.requiredMm, `required ${formatLength(layout.requiredMm, unit)}`, '#17634f', 1)])
  ];
  const label = `${train.host.name} and its train to scale: ${train.elements.map(({ name }) => name).join(', ')}`;
  return `<figure><svg viewBox="0 0 ${WIDTH} ${HEIGHT}" role="img" aria-label="${escaped(label)}" stroke-width="0.8">
<path d="M0 ${axis}H${WIDTH}" stroke="#a8a294" stroke-dasharray="8 3 2 3"/>
${layout.items.flatMap((item) => partShapes(item, 5).map(drawn)).join('')}
${offOutlines(layout).map(drawn).join('')}
${planes.join('')}${numbers.join('')}</svg></figure>`;
}

function sumTable({ title, lines, result }: Explanation, unit: LengthUnit): string {
  const row = (words: string, figure: string, source: string, mark = ''): string =>
    `<tr${mark}><td>${escaped(words)}</td><td class="n">${escaped(figure)}</td><td class="quiet">${escaped(source)}</td></tr>`;
  return `<h2>${escaped(title)}</h2><table><tbody>${lines
    .map(({ label, quantity, source }) => row(label, quantityInWords(quantity, unit), source(unit)))
    .join('')}${row('', quantityInWords(result, unit), '', ' class="sum"')}</tbody></table>`;
}

function partsTable({ elements }: Train, unit: LengthUnit): string {
  const rows = elements.map((element, index) => {
    const faces = [skyPort(element), cameraPort(element)].map((port) => (port ? portInWords(port) : ''));
    const length = isSolid(element) ? formatLength(lengthOf(element), unit) : '';
    const cells = [KINDS[element.kind].words, ...faces].map((text) => `<td>${escaped(text)}</td>`).join('');
    const note = element.note ? `<br><span class="quiet">${escaped(element.note)}</span>` : '';
    return `<tr><td class="n">${index + 1}</td><td>${escaped(element.name)}${note}</td><td class="n">${escaped(length)}</td>${cells}</tr>`;
  });
  return `<h2>Parts, from the sky to the camera</h2><table><thead><tr><th class="n">No.</th><th>Name</th><th class="n">Length</th><th>Kind</th><th>Sky face</th><th>Camera face</th></tr></thead><tbody>${rows.join('')}</tbody></table>`;
}

/**
 * A train as a page of its own: drawing, sums, what there is to know, parts, steps and notes.
 *
 * @param savedAt when this state was saved, ISO 8601
 */
export function trainPage(train: Train, unit: LengthUnit, savedAt: string): string {
  const assessment = assess(train);
  const { facts } = assessment;
  const told = assessment.findings.filter(({ level }) => level !== 'passed');
  const sums = (['length.actual', 'length.required'] satisfies Subject[]).flatMap((subject) => {
    const explanation = explain(facts, subject);
    return explanation ? [sumTable(explanation, unit)] : [];
  });
  const steps = assemblySheet(train, unit, train.assembly?.order ?? 'camera', facts);
  const list = (title: string, items: readonly string[], tag: 'ul' | 'ol' = 'ul'): string =>
    items.length === 0 ? '' : `<h2>${title}</h2><${tag}>${items.map((each) => `<li>${each}</li>`).join('')}</${tag}>`;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><meta name="robots" content="noindex"><title>${escaped(train.name)}</title><style>${STYLE}</style></head>
<body><main><h1>${escaped(train.name)}</h1>
<p class="verdict ${assessment.isGood ? 'good' : 'bad'}">${escaped(assessment.verdictInWords(unit))}</p>
<p>${escaped(nextStep(assessment, unit).sentence)}</p>
<p class="quiet">${escaped(train.host.name)}, ${formatLength(train.host.focalLengthMm, 'mm', 0)} focal length, f/${(train.host.focalLengthMm / train.host.apertureMm).toFixed(1)}. Saved ${day(savedAt)}.</p>
${drawing(assessment, unit)}
${train.note ? `<p class="note">${escaped(train.note)}</p>` : ''}
${sums.join('')}
${list(
  'To know',
  told.map(({ say }) => escaped(say(unit)))
)}
${partsTable(train, unit)}
${list(
  'Putting it together',
  steps.map(({ do: words, cautions }) =>
    [escaped(words), ...cautions.map((caution) => `<br><span class="quiet">${escaped(caution)}</span>`)].join('')
  ),
  'ol'
)}
<p class="quiet">Made with Lodestone. This page needs no network and holds no script.</p>
</main></body></html>
`;
}

/** The page of a train as an answer: it may load nothing, and is kept nowhere. */
export const pageResponse = (page: string): Response =>
  new Response(page, {
    headers: {
      'content-type': 'text/html; charset=utf-8',
      'content-security-policy': PAGE_POLICY,
      'cache-control': 'no-store',
      'referrer-policy': 'no-referrer',
      'x-robots-tag': 'noindex'
    }
  });
