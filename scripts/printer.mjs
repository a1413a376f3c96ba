// The thread that prints runs the sources as they are, as the command line does; the framework's build has no part in it.
import { register } from 'tsx/esm/api';

register();
await import('../src/lib/server/printing/worker.ts');
