import type { Command } from '$lib/ui/commands.svelte.ts';
import type { TuneDesk } from './desk.svelte.ts';

/** A switch of the map: a key, and which of its layers it turns on or off. */
const SWITCHES = [
  { id: 'whiskers', title: 'Whiskers on or off', key: 'W', of: 'whiskers' },
  { id: 'whiskers-single', title: 'Whiskers of single stars on or off', key: 'S', of: 'single' },
  { id: 'whiskers-without', title: 'Remove common drift', key: 'D', of: 'without' },
  { id: 'loupes', title: 'Loupes on or off', key: 'L', of: 'loupesShown' },
  { id: 'star-sizes', title: 'Sizes over the field on or off', key: 'Z', of: 'sizes' },
  { id: 'picture', title: 'Picture on or off', key: 'P', of: 'image' }
] as const;

/**
 * What can be done under Tune.
 *
 * @param open lets somebody choose files
 * @param complain says why something cannot be
 */
export function tuneCommands(
  desk: TuneDesk,
  open: () => void,
  complain: (refusal: string | undefined) => void
): Command[] {
  const group = 'Frames';
  const { frames, map } = desk;
  const enabled = (): boolean => frames.chosen?.summary !== undefined;
  const hasSensor = (): boolean => desk.hasSensor;
  return [
    { id: 'frames-open', group, title: 'Open frames …', key: 'O', run: open },
    { id: 'frame-next', group, title: 'Next frame in the list', key: 'J', run: () => frames.step(1) },
    { id: 'frame-before', group, title: 'Frame before in the list', key: 'K', run: () => frames.step(-1) },
    ...SWITCHES.map(({ of, ...said }): Command => ({ ...said, group, enabled, run: () => void (map[of] = !map[of]) })),
    { id: 'whiskers-longer', group, title: 'Longer whiskers', key: '.', enabled, run: () => map.longer(1) },
    { id: 'whiskers-shorter', group, title: 'Shorter whiskers', key: ',', enabled, run: () => map.longer(-1) },
    {
      id: 'loupe-here',
      group,
      title: 'Another loupe in the middle of what is seen',
      key: 'A',
      enabled,
      run: () => map.addLoupe(map.view.x / map.view.widthPx, map.view.y / map.view.heightPx)
    },
    {
      id: 'keep-experiment',
      group,
      title: 'Keep this frame as an experiment',
      key: 'E',
      enabled,
      run: () => complain(desk.keep())
    },
    {
      id: 'before-after',
      group,
      title: 'Both frames in each loupe, or one',
      key: 'B',
      enabled: () => frames.other !== undefined,
      run: () => void (map.both = !map.both)
    },
    {
      id: 'face-layer',
      group,
      title: 'Stars or tilt on the face',
      key: 'G',
      enabled: () => desk.hasTilt,
      run: () => desk.turnFace()
    },
    {
      id: 'simulate-sweep',
      group,
      title: 'Take a focus sweep with the simulated camera',
      key: 'Shift+X',
      enabled: hasSensor,
      run: () => desk.simulateSweep()
    },
    { id: 'trainer', group, title: 'Trainer: what is wrong with this frame?', run: () => desk.nextRound() },
    {
      id: 'compare-frames',
      group,
      title: 'Compare with the next frame',
      key: 'C',
      enabled,
      run: () => complain(desk.compare())
    },
    {
      id: 'simulate-camera',
      group,
      title: 'Take a frame with the simulated camera',
      key: 'X',
      enabled: hasSensor,
      run: () => desk.simulate()
    }
  ];
}
