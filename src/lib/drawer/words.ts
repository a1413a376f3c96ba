import { cameraPort, skyPort, type Port } from '@lodestone/core/train';
import { parseThread } from '@lodestone/core/joint';
import { STATE_WORDS, type Part, type PartUse } from '@lodestone/core/drawer';

/** A face as short as a list can bear: `M48×0.75 f`. */
function faceInShort(port: Port | undefined): string {
  if (!port) return '?';
  if ('thread' in port) return `${parseThread(port.thread)?.designation ?? port.thread} ${port.gender[0]}`;
  if ('bayonet' in port) return `${port.bayonet} ${port.gender[0]}`;
  if ('slip' in port) return `slip ${port.slip} ${port.gender[0]}`;
  if ('clamp' in port) return `clamp ${port.clamp} ${port.gender[0]}`;
  return `${port.bolts.count} bolts`;
}

/** What a part screws to, sky face first; a shim lies between faces. */
export function facesInShort({ element }: Part): string[] {
  if (element.kind === 'shim') return element.clearMm === undefined ? [] : [`bore ${element.clearMm}`];
  if (element.kind === 'camera') return [faceInShort(skyPort(element))];
  return [faceInShort(skyPort(element)), faceInShort(cameraPort(element))];
}

/** Where a part is just now, or what is planned for it. */
export function whereabouts(part: Part, uses: readonly PartUse[]): string {
  const held = [...new Set(uses.filter(({ assembled }) => assembled).map(({ trainName }) => trainName))];
  if (held.length > 0) return `in ${held.join(', ')}`;
  if (!part.owned) return 'to buy';
  const planned = [...new Set(uses.map(({ trainName }) => trainName))];
  if (part.state === 'set-aside') return STATE_WORDS[part.state];
  return planned.length > 0 ? `planned: ${planned.join(', ')}` : STATE_WORDS[part.state];
}

/** Where this tab keeps which parts are to be measured. */
export const MEASURE = 'lodestone.measure';
