// Runs errands in a process of its own, which knows no password and gives its memory back when it ends.
import { ringDrawing } from '@lodestone/core/drawing';
import { assemblyPdf } from './assemblyPdf.ts';
import { checkSheet } from './checkSheet.ts';
import { comparisonPdf } from './comparisonPdf.ts';
import { drawingPdf } from './drawingPdf.ts';
import { readFrameErrand, takeFrameErrand } from './frames.ts';
import { NotAPicture, type Brought, type Errand, type Reply } from './errand.ts';
import { printLabels } from './labels.ts';
import { reencode } from './picture.ts';
import { recordPdf } from './recordPdf.ts';

async function run(errand: Errand): Promise<Brought> {
  switch (errand.kind) {
    case 'labels':
      return { bytes: new Uint8Array(await printLabels(errand.parts, errand.origin)) };
    case 'check-sheet':
      return { bytes: new Uint8Array(await checkSheet(errand.train, errand.buy)) };
    case 'ring':
      return { bytes: new Uint8Array(await drawingPdf(ringDrawing(errand.ring, errand.title), errand.title)) };
    case 'sheet':
      return { bytes: new Uint8Array(await assemblyPdf(errand.train, errand.order)) };
    case 'record':
      return { bytes: new Uint8Array(await recordPdf(errand.record, errand.photos)) };
    case 'comparison':
      return { bytes: new Uint8Array(await comparisonPdf(errand.trains, errand.parts)) };
    case 'picture':
      return reencode(errand.upload);
    case 'read-frame':
      return { bytes: await readFrameErrand(errand.upload) };
    case 'take-frame':
      return { bytes: takeFrameErrand(errand) };
  }
}

const say = (reply: Reply): void => void process.send?.(reply);

process.on('message', (errand: Errand) => {
  run(errand).then(
    (brought) => say({ brought }),
    (error: unknown) => {
      const failure = error instanceof Error ? error.message : String(error);
      say(error instanceof NotAPicture ? { failure, notAPicture: true } : { failure });
    }
  );
});
process.on('disconnect', () => process.exit(0));
