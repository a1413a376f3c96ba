import { formatWithin, type LengthUnit } from '@lodestone/core/why';
import { nameOf, type Train } from '@lodestone/core/train';
import { assemblySheet, type AssemblyOrder } from '@lodestone/core/assembly';
import { Page } from './page.ts';
import { decoration } from './structure.ts';
import { drawTrain, trainInWords } from './trainPdf.ts';

const DRAWING_HEIGHT = 110;
const BOX = 9;

const ORDER_WORDS: Readonly<Record<AssemblyOrder, string>> = {
  camera: 'from the camera',
  telescope: 'from the telescope',
  parts: 'sub-assemblies first'
};

/** The steps of an assembly, to be ticked off with a pencil. */
export function assemblyPdf(train: Train, order: AssemblyOrder, unit: LengthUnit): Promise<Uint8Array> {
  const page = new Page(`Assembly: ${train.name}`);
  page.title(`Putting together ${train.name}`);
  page.say(ORDER_WORDS[order], 10);
  page.gap(24);
  page.figure(trainInWords(train), () =>
    drawTrain(page.doc, train, { left: page.left, top: page.y, width: page.width, height: DRAWING_HEIGHT })
  );
  page.gap(DRAWING_HEIGHT + 24);
  for (const { n, do: words, tools, cautions, measure, ask, ticks } of assemblySheet(train, unit, order)) {
    page.room(40);
    page.rule();
    decoration(page.doc, () =>
      page.doc
        .lineWidth(0.7)
        .strokeColor('#000000')
        .rect(page.left, page.y + 1, BOX, BOX)
        .stroke()
    );
    page.bookmark(`${n}. ${words}`);
    page.say(`${n}.  ${words}`, 10.5, 600, 18, 'H2');
    for (const caution of cautions) page.say(`! ${caution}`, 9, 400, 18);
    if (tools.length > 0) page.say(`Tools: ${tools.join(', ')}`, 9, 400, 18);
    if (ticks.length > 0) page.say(`One by one:  ${ticks.map(({ what }) => `[  ] ${what}`).join('   ')}`, 9, 400, 18);
    for (const { id, gender, face } of ask) {
      page.say(
        `Measure first: ${gender === 'male' ? 'length of the male thread' : 'depth of the thread'} on the ${face} side of ${nameOf(train, id)}:  __________`,
        9,
        400,
        18
      );
    }
    if (measure) {
      const what =
        measure.from === measure.to
          ? nameOf(train, measure.from)
          : `${nameOf(train, measure.from)} to ${nameOf(train, measure.to)}`;
      page.say(
        `${what}: ${formatWithin(measure.expectedMm, measure.uncertaintyMm, unit)}, read:  __________`,
        9,
        400,
        18
      );
    }
    page.gap(4);
  }
  return page.end();
}
