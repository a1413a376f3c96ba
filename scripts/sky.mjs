// Cuts the open catalogue of d3-celestial (BSD-3) down to what the framing shows: Messier and the bright rest with
// their sizes, stars to magnitude 7. It is looked at when it is cut: a catalogue that has changed is refused.
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { createRequire } from 'node:module';
import { dirname, join } from 'node:path';

const FAINTEST_STAR = 7;

/** Kinds of object as the catalogue writes them, in words. */
const KINDS = {
  s: 'galaxy',
  s0: 'galaxy',
  sd: 'galaxy',
  e: 'galaxy',
  i: 'galaxy',
  g: 'galaxy',
  gg: 'galaxies',
  gc: 'globular cluster',
  oc: 'open cluster',
  pn: 'planetary nebula',
  bn: 'nebula',
  en: 'nebula',
  rn: 'nebula',
  sfr: 'nebula',
  snr: 'supernova remnant',
  pos: 'star cloud'
};

/** Faintest magnitude, and least size in minutes of arc, of what is kept beside Messier's. */
const KEPT = {
  galaxy: { magnitude: 10.5, size: 8 },
  'globular cluster': { magnitude: 7.5, size: 12 },
  'open cluster': { magnitude: 6.5, size: 15 },
  'planetary nebula': { magnitude: 11, size: 1.5 },
  nebula: { magnitude: 9, size: 15 },
  'supernova remnant': { magnitude: 9, size: 20 }
};

/** Position angles of long axes, north through east, degrees (from memory, to a few degrees); the catalogue has none. */
const POSITION_ANGLES = {
  M31: 35,
  M32: 170,
  M33: 23,
  M51: 163,
  M63: 105,
  M64: 115,
  M65: 174,
  M66: 173,
  M81: 157,
  M82: 65,
  M88: 140,
  M90: 23,
  M96: 5,
  M98: 155,
  M101: 90,
  M104: 90,
  M106: 150,
  M108: 80,
  M109: 68,
  M110: 170,
  'NGC 253': 52,
  'NGC 891': 22,
  'NGC 4565': 136,
  'NGC 4631': 86,
  'NGC 7331': 171
};

/** Sizes in minutes of arc out of `120x100`, `13`, `6×4`. */
const sizesOf = (text) =>
  String(text)
    .replace('×', 'x')
    .split('x')
    .map(Number)
    .filter((size) => Number.isFinite(size) && size > 0);

/** Right ascension and declination; undefined where an entry is no place on the sky, as a few are. */
function placeOf({ geometry }) {
  const [lon, lat] = geometry?.coordinates ?? [];
  if (!(Math.abs(lon) <= 360) || !(Math.abs(lat) <= 90)) return undefined;
  return [Number((((lon % 360) + 360) % 360).toFixed(4)), Number(lat.toFixed(4))];
}

function objectOf(feature, { id, name, kind }) {
  const { dim, mag } = feature.properties;
  const [majorArcmin, minorArcmin = majorArcmin] = sizesOf(dim);
  const [raDeg, decDeg] = placeOf(feature) ?? [];
  if (majorArcmin === undefined || kind === undefined || raDeg === undefined) return undefined;
  const magnitude = Number(mag);
  return {
    id,
    ...(name ? { name } : {}),
    kind,
    raDeg,
    decDeg,
    majorArcmin: Math.max(majorArcmin, minorArcmin),
    minorArcmin: Math.min(majorArcmin, minorArcmin),
    ...(Number.isFinite(magnitude) && magnitude < 30 ? { magnitude } : {}),
    ...(POSITION_ANGLES[id] === undefined ? {} : { positionDeg: POSITION_ANGLES[id] })
  };
}

/** Writes what the framing shows. @param out file to write */
export async function cutSky(out) {
  const data = join(dirname(createRequire(import.meta.url).resolve('d3-celestial/package.json')), 'data');
  const read = async (file) => JSON.parse(await readFile(join(data, file), 'utf8'));
  const [messier, deep, names, stars] = await Promise.all(
    ['messier.json', 'dsos.14.json', 'dsonames.json', 'stars.8.json'].map(read)
  );
  const objects = messier.features.flatMap((feature) => {
    const { name: id, alt, type } = feature.properties;
    return objectOf(feature, { id, name: alt, kind: KINDS[type] ?? 'star cloud' }) ?? [];
  });
  const known = new Set(messier.features.map(({ properties }) => properties.desig));
  for (const feature of deep.features) {
    const { desig, type, mag } = feature.properties;
    const kind = KINDS[type];
    const kept = KEPT[kind];
    if (!kept || /^M \d/.test(desig) || known.has(desig)) continue;
    const object = objectOf(feature, { id: desig, name: names[desig]?.name, kind });
    if (!object || !(Number(mag) <= kept.magnitude) || object.majorArcmin < kept.size) continue;
    known.add(desig);
    objects.push(object);
  }
  if (messier.features.length !== 110 || objects.length < 200 || objects.length > 1000) {
    throw new Error(`the catalogue has ${messier.features.length} and ${objects.length} objects: it has changed`);
  }
  const bright = stars.features
    .filter((feature) => feature.properties.mag <= FAINTEST_STAR && placeOf(feature))
    .sort((a, b) => a.properties.mag - b.properties.mag)
    .map((feature) => [...placeOf(feature).map((deg) => Number(deg.toFixed(3))), feature.properties.mag]);
  if (bright.length < 10_000) throw new Error(`the catalogue has only ${bright.length} stars`);
  await mkdir(dirname(out), { recursive: true });
  await writeFile(out, JSON.stringify({ objects, stars: bright }));
}
