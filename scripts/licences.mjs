// `npm run licences`: which licence each package that is run with Lodestone has, as npm's own bill of materials tells.
// `--check` fails on one that nobody here has agreed to. With `--all`, also what only builds and tests it.
import { spawnSync } from 'node:child_process';
import { ROOT } from './setup/paths.mjs';

/** SPDX ids. LGPL: libvips, which sharp loads as a library of its own that anybody may replace. */
const AGREED = new Set([
  ...['0BSD', 'Apache-2.0', 'BSD-2-Clause', 'BSD-3-Clause', 'BlueOak-1.0.0', 'ISC', 'LGPL-3.0-or-later', 'MIT'],
  ...['MIT-0', 'OFL-1.1', 'Python-2.0', 'Unlicense', 'Zlib']
]);

/** Where a package leaves a choice of licences, one of them is enough (SPDX, “License expressions”). */
const isAgreed = (licence) =>
  licence
    .replaceAll(/[()]/g, '')
    .split(' OR ')
    .some((each) => AGREED.has(each));

const isOurs = ({ properties = [] }) => properties.some(({ name }) => name === 'cdx:npm:package:private');
/** Those whose licence stands in a file alone: looked up there by hand. */
const BY_HAND = { 'png-js': 'MIT' };

const words = new Set(process.argv.slice(2));
const { status, stdout, stderr } = spawnSync(
  'npm',
  ['sbom', '--sbom-format', 'cyclonedx', ...(words.has('--all') ? [] : ['--omit', 'dev'])],
  { cwd: ROOT, encoding: 'utf8', maxBuffer: 64_000_000 }
);
if (status !== 0) {
  console.error(stderr);
  process.exit(1);
}

const licenceOf = ({ name, licenses = [] }) =>
  BY_HAND[name] ?? licenses.map(({ license, expression }) => license?.id ?? license?.name ?? expression).join(' and ');

const packages = JSON.parse(stdout)
  .components.filter((component) => !isOurs(component))
  .map((component) => ({
    name: component.name,
    version: component.version,
    licence: licenceOf(component)
  }))
  .sort((a, b) => a.licence.localeCompare(b.licence) || a.name.localeCompare(b.name));

if (words.has('--check')) {
  const open = packages.filter(({ licence }) => !isAgreed(licence));
  for (const { name, version, licence } of open) console.error(`${name} ${version}: ${licence || 'no licence told'}`);
  if (open.length > 0) process.exit(1);
  console.log(`${packages.length} packages, each with a licence that was agreed to.`);
} else {
  for (const { name, version, licence } of packages) console.log(`${licence.padEnd(20)} ${name} ${version}`);
}
