// What is opened, filled and closed again, and what is taken off first (handbook §8).
import { taskOf } from '../joint/hidden.ts';
import {
  HOST,
  KINDS,
  glassOf,
  isCamera,
  nameOf,
  type BodyElement,
  type Detachable,
  type Train
} from '../train/model.ts';
import { capitalised, formatLength, listed, withArticle, type LengthUnit } from '../why/wording.ts';
import { fillSealOf, sealOfText } from './seal.ts';
import { closingScrews, countOf, coverScrews, fastenerInWords, filterScrews, platesOf, screwed } from './screws.ts';
import { CAUTIONS, step, type Step, type StepTick } from './step.ts';

/** What opening a part asks for (handbook §8). */
function openingCautions({ host, elements }: Train, id: string, { fasteners }: Detachable): string[] {
  if (id === HOST && host.kind === 'camera-lens') return [CAUTIONS.openLens];
  const isScrewed = (fasteners ?? []).length > 0;
  return isScrewed && elements.some((element) => element.id === id && isCamera(element)) ? [CAUTIONS.openCamera] : [];
}

/** Pieces that are taken off a part before anything is joined to it. @param id of the element, or `host` */
export function takingOff(train: Train, id: string, pieces: readonly Detachable[], unit: LengthUnit): Step[] {
  return pieces.flatMap((piece, index): Step[] => {
    const { name, lengthMm, on, keptAt, fasteners = [] } = piece;
    if (on) return [];
    const screws = fasteners.length === 0 ? '' : `: undo ${listed(fasteners.map(fastenerInWords))}, and count them`;
    const kept = keptAt === undefined ? '' : ` Keep it at ${keptAt}.`;
    const words = `Take ${withArticle(name)} (${formatLength(lengthMm, unit)}) off ${nameOf(train, id)}${screws}.${kept}`;
    return [
      step(taskOf.off(id, index), sealOfText(`${id} without ${name}`), words, {
        parts: [id],
        tools: [...new Set(fasteners.flatMap(({ tool }) => tool ?? []))],
        cautions: openingCautions(train, id, piece)
      })
    ];
  });
}

/** Filters of an element that are glass: what stands in its slots. */
const filtersIn = (element: BodyElement) =>
  KINDS[element.kind].holds ? (glassOf(element) ?? []).filter(({ thicknessMm }) => thicknessMm > 0) : [];

/** A holder that is opened by its screws before filters go in: counted, since as many go back. */
export function opening(element: BodyElement): Step | undefined {
  const screws = closingScrews(element);
  if (filtersIn(element).length === 0 || screws.length === 0) return undefined;
  const plates = platesOf(element).map(({ name }) => name);
  const apart = plates.length === 0 ? '' : ` It comes apart into ${listed(plates)}.`;
  return step(
    taskOf.open(element.id),
    sealOfText(`${element.id} open`),
    `Open ${element.name}: undo ${listed(screws.map(fastenerInWords))}, and count them.${apart}`,
    { parts: [element.id], tools: [...new Set(screws.flatMap(({ tool }) => tool ?? []))] }
  );
}

/** Filters that go into a holder before it is closed. */
export function loading(element: BodyElement): Step | undefined {
  const filters = filtersIn(element);
  if (filters.length === 0) return undefined;
  const key = taskOf.fill(element.id);
  const named = filters.map(({ slot, name, partId, thicknessMm }): StepTick => ({
    key: `${key} slot ${slot ?? ''}`,
    what: slot === undefined ? (name ?? 'the filter') : `${slot} ${name ?? 'unnamed'}`,
    seal: sealOfText(JSON.stringify([slot, partId ?? name, thicknessMm]))
  }));
  const plates = platesOf(element).map(({ name }) => name);
  const isOpen = closingScrews(element).length > 0;
  const opened = plates.length === 0 || isOpen ? '' : `Open ${element.name} (${listed(plates)}). `;
  const turned = filters.flatMap(({ name, towardCamera }) =>
    towardCamera === undefined ? [] : [`${name ?? 'The filter'}: ${towardCamera} toward the camera.`]
  );
  const own = filterScrews(element);
  const held =
    own.length === 0
      ? ''
      : ` Hold each with ${listed(own.map(fastenerInWords))}: the shortest first, and look behind, nothing may protrude.`;
  const slots = named.filter((_tick, index) => filters[index]!.slot !== undefined);
  return step(
    key,
    fillSealOf(element),
    `${opened}Put the filters into ${element.name}: ${listed(named.map(({ what }) => what))}.${held} Turn it by hand: nothing may protrude. Blow it clean once more.`,
    {
      parts: [element.id],
      tools: ['gloves', 'blower', ...new Set(own.flatMap(({ tool }) => tool ?? []))],
      cautions: [...new Set([CAUTIONS.glass, ...turned, ...(element.cautions ?? [])])],
      ticks: slots.length > 1 ? slots : []
    }
  );
}

/** The cover of a holder, once its filters are in: plate by plate, and the right way round. */
export function closingHolder(train: Train, element: BodyElement): Step | undefined {
  const all = closingScrews(element);
  if (all.length === 0) return undefined;
  const plates = platesOf(element);
  const byPlate = plates.flatMap(({ name, fasteners }) => {
    const { words } = screwed(train, fasteners);
    return words === undefined ? [] : [`${name} with ${words}`];
  });
  const own = screwed(train, coverScrews(element)).words;
  const how =
    byPlate.length === 0
      ? ` with ${own}`
      : `: ${listed([...byPlate, ...(own === undefined ? [] : [`the rest with ${own}`])])}`;
  const count = countOf(all);
  const marks = plates.flatMap(({ name, marks: way }) =>
    way === undefined ? [] : [` ${capitalised(name)} the right way round: ${way}.`]
  );
  const { tools, cautions } = screwed(train, all);
  return step(
    taskOf.close(element.id),
    fillSealOf(element),
    `Close ${element.name}${how}.${marks.join('')}${count > 1 ? ` ${count} screws in all, as many as came out.` : ''}`,
    { parts: [element.id], tools: [...new Set(tools)], cautions: [...new Set(cautions)] }
  );
}
