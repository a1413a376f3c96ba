// The process that runs errands where there is no build: the sources as they are.
import { register } from 'tsx/esm/api';

register();
await import('../src/lib/server/errands/runner.ts');
