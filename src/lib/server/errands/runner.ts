// Runs errands in a process of its own, which knows no password and gives its memory back when it ends.
// What an errand needs is loaded with the first of its kind: a picture waits for no PDF writer.
import { NotAPicture, type Brought, type Errand, type Reply } from './errand.ts';

const pdf = (buffer: Uint8Array): Brought => ({ bytes: new Uint8Array(buffer) });

async function run(errand: Errand): Promise<Brought> {
  switch (errand.kind) {
    case 'labels':
      return pdf(await (await import('./labels.ts')).printLabels(errand.parts, errand.origin, errand.unit));
    case 'check-sheet':
      return pdf(await (await import('./checkSheet.ts')).checkSheet(errand.train, errand.buy, errand.unit));
    case 'ring': {
      const { workshopDrawing } = await import('@lodestone/core/drawing');
      const { variants, title } = errand;
      return pdf(await (await import('./drawingPdf.ts')).drawingPdf(workshopDrawing(variants, title), title));
    }
    case 'sheet':
      return pdf(await (await import('./assemblyPdf.ts')).assemblyPdf(errand.train, errand.order, errand.unit));
    case 'bench-sheet':
      return pdf(await (await import('./benchSheet.ts')).benchSheet(errand.train, errand.parts, errand.unit));
    case 'record':
      return pdf(
        await (await import('./recordPdf.ts')).recordPdf(errand.record, errand.photos, errand.unit, errand.timeZone)
      );
    case 'comparison':
      return pdf(await (await import('./comparisonPdf.ts')).comparisonPdf(errand));
    case 'picture':
      return (await import('./picture.ts')).reencode(errand.path);
    case 'read-frame':
      return { bytes: await (await import('./frames.ts')).readFrameErrand(errand) };
    case 'take-frame':
      await (await import('./frames.ts')).takeFrameErrand(errand);
      return { bytes: new Uint8Array() };
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
