import type { RailView } from '$lib/rail/view.svelte.ts';
import type { ZoomControl } from '$lib/rail/zoom.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import type { Command } from '$lib/ui/commands.svelte.ts';
import type { Notices } from '$lib/ui/notices.svelte.ts';

/** How much one key press zooms. */
const ZOOM_STEP = 1.4;

/** Room the rail needs above and below the train, px. */
const RAIL_MARGINS_PX = 124;
const USUAL_RAIL_PX = 330;

/** True proportions are only of use when the whole height is seen. */
function toggleProportions(train: TrainSession, view: RailView, zoom: ZoomControl): void {
  view.trueProportions = !view.trueProportions;
  zoom.reset();
  if (!view.trueProportions) return;
  const heightPx = document.getElementById('rail')?.clientHeight ?? USUAL_RAIL_PX;
  const across = (heightPx - RAIL_MARGINS_PX) / 2 / train.layout.maxRadiusMm;
  view.zoom = Math.min(1, across / view.fitPxPerMm);
  view.shiftPx = (view.widthPx * (1 - view.zoom)) / 2;
}

/** Undo and redo; every page of a train has them. */
export function undoCommands(train: TrainSession, tell: (refusal: string | undefined) => void): Command[] {
  return [
    {
      id: 'undo',
      group: 'Edit',
      title: 'Undo',
      key: 'Ctrl+Z',
      enabled: () => train.undoLabel !== undefined,
      run: () => tell(train.undo())
    },
    {
      id: 'redo',
      group: 'Edit',
      title: 'Redo',
      key: 'Ctrl+Shift+Z',
      otherKey: 'Ctrl+Y',
      enabled: () => train.redoLabel !== undefined,
      run: () => tell(train.redo())
    }
  ];
}

/** Commands that every stage of a train has: undo, walking the rail, changing parts, looking closer. */
export function frameCommands(
  train: TrainSession,
  view: RailView,
  zoom: ZoomControl,
  tell: (refusal: string | undefined) => void,
  notices: Notices,
  toggleTable?: () => void
): Command[] {
  function removeChosen(): void {
    const { chosenInWords } = train;
    const refusal = train.removeChosen();
    if (refusal !== undefined) return tell(refusal);
    notices.sayDone(train, `${chosenInWords} removed.`);
  }
  /** The camera stands last, and stays. */
  const canMove = () => train.chosen.length > 0 && !train.hasCameraChosen;
  const isElement = () => train.selection.kind === 'element';
  const what = () => (train.chosen.length > 1 ? `${train.chosen.length} parts` : 'the part');
  return [
    ...undoCommands(train, tell),
    {
      id: 'remove',
      group: 'Edit',
      get title() {
        return `Remove ${what()}`;
      },
      key: 'Delete',
      otherKey: 'Backspace',
      within: '#rail, [data-staircase], [data-ledger]',
      enabled: isElement,
      run: removeChosen
    },
    {
      id: 'skyward',
      group: 'Edit',
      get title() {
        return `Move ${what()} toward the sky`;
      },
      key: 'Alt+ArrowLeft',
      enabled: canMove,
      run: () => tell(train.shift(-1))
    },
    {
      id: 'camward',
      group: 'Edit',
      get title() {
        return `Move ${what()} toward the camera`;
      },
      key: 'Alt+ArrowRight',
      enabled: canMove,
      run: () => tell(train.shift(1))
    },
    {
      id: 'rail',
      group: 'Rail',
      title: 'Go to the rail',
      key: 'G',
      run: () => document.getElementById('rail')?.focus()
    },
    { id: 'next', group: 'Rail', title: 'Next part or joint', key: 'ArrowRight', run: () => train.walk(1) },
    { id: 'previous', group: 'Rail', title: 'Previous part or joint', key: 'ArrowLeft', run: () => train.walk(-1) },
    {
      id: 'all',
      group: 'Rail',
      title: 'Choose all parts',
      key: 'Ctrl+A',
      within: '#rail',
      run: () => train.chooseAll()
    },
    {
      id: 'more',
      group: 'Rail',
      title: 'Choose the next part as well',
      key: 'Shift+ArrowRight',
      run: () => train.extend(1)
    },
    {
      id: 'more-skyward',
      group: 'Rail',
      title: 'Choose the part before as well',
      key: 'Shift+ArrowLeft',
      run: () => train.extend(-1)
    },
    { id: 'host', group: 'Rail', title: 'Show the host', key: 'H', run: () => train.select({ kind: 'host' }) },
    { id: 'zoom-in', group: 'Rail', title: 'Zoom in', key: '+', otherKey: '=', run: () => zoom.by(ZOOM_STEP) },
    { id: 'zoom-out', group: 'Rail', title: 'Zoom out', key: '-', run: () => zoom.by(1 / ZOOM_STEP) },
    { id: 'fit', group: 'Rail', title: 'Show the whole train', key: '0', run: zoom.reset },
    {
      id: 'true',
      group: 'Rail',
      title: 'True proportions',
      key: 'P',
      run: () => toggleProportions(train, view, zoom)
    },
    ...(toggleTable
      ? [{ id: 'table', group: 'Rail', title: 'Ledger as table or staircase', key: 'L', run: toggleTable }]
      : [])
  ];
}
