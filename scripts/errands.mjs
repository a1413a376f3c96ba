// The process that runs errands: the sources as they are, as the command line runs them; the framework's build has no
// part in it.
import { register } from 'tsx/esm/api';

register();
await import('../src/lib/server/errands/runner.ts');
