// Makes PDF files on a thread of its own: a thousand labels take seconds, and nobody else shall wait for them.
import { parentPort } from 'node:worker_threads';
import { ringDrawing } from '@lodestone/core/drawing';
import { checkSheet } from './checkSheet.ts';
import { drawingPdf } from './drawingPdf.ts';
import type { PrintJob } from './jobs.ts';
import { printLabels } from './labels.ts';

function print(job: PrintJob): Promise<Uint8Array> {
  switch (job.kind) {
    case 'labels':
      return printLabels(job.parts, job.origin);
    case 'check-sheet':
      return checkSheet(job.train, job.buy);
    case 'ring':
      return drawingPdf(ringDrawing(job.ring, job.title), job.title);
  }
}

parentPort?.on('message', (job: PrintJob) => {
  print(job).then(
    (pdf) => parentPort?.postMessage({ pdf: new Uint8Array(pdf) }),
    (error: unknown) => parentPort?.postMessage({ failure: error instanceof Error ? error.message : String(error) })
  );
});
