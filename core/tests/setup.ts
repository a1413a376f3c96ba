import fc from 'fast-check';

/** The same cases on every run, so that a change is what makes a test fail; LODESTONE_SEED tries others. */
fc.configureGlobal({
  seed: Number(process.env.LODESTONE_SEED ?? 20_261_124),
  numRuns: Number(process.env.LODESTONE_RUNS ?? 200)
});
