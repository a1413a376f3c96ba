// Turns the JSON Schemas into what the code imports: Ajv validators as plain modules (the page's
// security policy forbids code made from strings) and the TypeScript types of the same schemas.
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import standaloneCode from 'ajv/dist/standalone/index.js';
import { build } from 'esbuild';
import { compile as compileTypes } from 'json-schema-to-typescript';
import { cutSky } from './sky.mjs';

const root = dirname(dirname(fileURLToPath(import.meta.url)));

const targets = [
  {
    schema: 'core/src/train/train.schema.json',
    out: 'core/src/train/generated',
    typesFile: 'types',
    validators: {
      validateTrain: { ref: '', type: 'Train' },
      ...Object.fromEntries(
        ['Element', 'ThreadPort', 'BayonetPort', 'BoltPort', 'SlipPort', 'ClampPort'].map((name) => [
          `validate${name}`,
          { ref: `#/$defs/${name}`, type: name }
        ])
      )
    }
  },
  {
    schema: 'core/src/drawer/drawer.schema.json',
    out: 'core/src/drawer/generated',
    typesFile: 'types',
    validators: {
      validateDrawerFile: { ref: '', type: 'DrawerFile' },
      validatePartKeys: { ref: '#/$defs/PartKeys', type: 'PartKeys' }
    }
  },
  {
    schema: 'core/src/focus/run.schema.json',
    out: 'core/src/focus/generated',
    typesFile: 'types',
    validators: { validateFocusRunFile: { ref: '', type: 'FocusRunFile' } }
  },
  {
    schema: 'core/src/experiment/experiments.schema.json',
    out: 'core/src/experiment/generated',
    typesFile: 'types',
    validators: { validateExperimentsFile: { ref: '', type: 'ExperimentsFile' } }
  },
  {
    schema: 'src/lib/api/requests.schema.json',
    out: 'src/lib/api/generated',
    typesFile: 'types',
    validators: Object.fromEntries(
      [
        'CreateTrain',
        'SaveRevision',
        'ChangeState',
        'TrainPath',
        'RevisionPath',
        'ChangeDrawer',
        'PartPath',
        'ScanPath',
        'AssembleTrain',
        'PrintLabels',
        'MakeRing',
        'PrintCheckSheet',
        'RecordPath',
        'RecordPhotoPath',
        'PrintSheet',
        'PrintComparison',
        'MoveFocuser',
        'FramePath',
        'SimulateFrame',
        'SetRoom',
        'SetBackups',
        'BackupPath',
        'NameRevision',
        'MakeLink',
        'LinkPath',
        'SignIn',
        'SignInByPasskey',
        'OpenInvitation',
        'Join',
        'ChangePassphrase',
        'AddPasskey',
        'PasskeyPath',
        'SessionPath',
        'MakeToken',
        'TokenPath',
        'Invite',
        'InvitationPath',
        'OwnerPath',
        'CloseAccount',
        'AddGuest',
        'GuestPath'
      ].map((name) => [`validate${name}`, { ref: `#/$defs/${name}`, type: name }])
    )
  }
];

/** Words for people, which Ajv would carry into the page: they are a third of what is sent. Keys may be called like them. */
function withoutWords(node, areNames = false) {
  if (Array.isArray(node)) return node.map((child) => withoutWords(child));
  if (node === null || typeof node !== 'object') return node;
  return Object.fromEntries(
    Object.entries(node)
      .filter(([key]) => areNames || (key !== 'title' && key !== 'description'))
      .map(([key, child]) => [key, withoutWords(child, !areNames && (key === 'properties' || key === '$defs'))])
  );
}

/** Ajv's standalone module, with the few runtime helpers it requires bundled into it. */
async function validatorModule(schema, validators) {
  const ajv = new Ajv2020({
    allErrors: true,
    discriminator: true,
    strict: true,
    strictRequired: false,
    allowUnionTypes: true,
    messages: false,
    inlineRefs: false,
    code: { source: true, esm: true }
  });
  ajv.addSchema(withoutWords(schema));
  const exported = Object.fromEntries(
    Object.entries(validators).map(([name, { ref }]) => [name, `${schema.$id}${ref}`])
  );
  const bundle = await build({
    stdin: { contents: standaloneCode(ajv, exported), resolveDir: root, loader: 'js' },
    bundle: true,
    format: 'esm',
    platform: 'neutral',
    mainFields: ['main'],
    minifySyntax: true,
    tsconfigRaw: '{}',
    write: false
  });
  return bundle.outputFiles[0].text;
}

/** Schemas of keys have a title for people, which is no name of a type. */
const untitled = (properties) =>
  Object.fromEntries(Object.entries(properties).map(([key, { title: _title, ...node }]) => [key, node]));

/** `discriminator` is Ajv's word, not the type generator's. */
function forTypes(node) {
  if (Array.isArray(node)) return node.map(forTypes);
  if (node === null || typeof node !== 'object') return node;
  const copy = {};
  for (const [key, child] of Object.entries(node)) {
    if (key !== 'discriminator') copy[key] = forTypes(key === 'properties' ? untitled(child) : child);
  }
  if (copy.minItems !== copy.maxItems) delete copy.minItems;
  if (copy.oneOf && copy.required) {
    delete copy.required;
    delete copy.type;
  }
  return copy;
}

for (const { schema: path, out, typesFile, validators } of targets) {
  const schema = JSON.parse(await readFile(join(root, path), 'utf8'));
  const folder = join(root, out);
  await mkdir(folder, { recursive: true });

  const types = await compileTypes(forTypes(schema), schema.title, {
    additionalProperties: false,
    unreachableDefinitions: true,
    bannerComment: `// Generated from ${path} by scripts/generate.mjs. Change the schema, not this file.`,
    style: { singleQuote: true }
  });
  const declared = Object.entries(validators)
    .map(
      ([name, { type }]) =>
        `export const ${name}: ((candidate: unknown) => candidate is ${type}) & { errors?: ErrorObject[] | null };`
    )
    .join('\n');
  const named = [...new Set(Object.values(validators).map(({ type }) => type))].join(', ');

  await writeFile(join(folder, `${typesFile}.ts`), types);
  await writeFile(join(folder, 'validate.js'), await validatorModule(schema, validators));
  await writeFile(
    join(folder, 'validate.d.ts'),
    `import type { ErrorObject } from 'ajv';\nimport type { ${named} } from './types.ts';\n${declared}\n`
  );
}

await cutSky(join(root, 'src/lib/face/generated/sky.json'));
