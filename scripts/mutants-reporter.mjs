import { PluginKind, declareClassPlugin } from '@stryker-mutator/api/plugin';
import { relative } from 'node:path';

/** Prints each mutant no test noticed as soon as it is known: a run that is cut has then still said something. */
class Survivors {
  onMutantTested({ status, fileName, location, mutatorName, replacement }) {
    if (status !== 'Survived' && status !== 'NoCoverage') return;
    const place = `${relative(process.cwd(), fileName)}:${location.start.line}`;
    console.log(`${place} ${mutatorName} → ${(replacement ?? '').slice(0, 80)}`);
  }
}

export const strykerPlugins = [declareClassPlugin(PluginKind.Reporter, 'survivors', Survivors)];
