import type { TourStep } from '$lib/ui/Tour.svelte';

/** What a newcomer is shown of Build, in the order the job goes. */
export const BUILD_TOUR: readonly TourStep[] = [
  {
    at: '[data-verdict]',
    title: 'The answer comes first',
    words:
      'How much the train is too long or too short, in one number. Next to it: where the sensor is, where it should be, and what to do next.'
  },
  {
    at: '[data-verdict] .asks-why, [data-verdict]',
    title: 'Every dotted number has a why',
    words: 'Click one, or move to it with Tab: the sum it came from opens, each term with its source.'
  },
  {
    at: '.area-rail',
    title: 'The rail: your train to scale',
    words:
      'Sky on the left, camera on the right; cut open above the axis. The solid line is where the sensor is, the dashed one where it should be. Click a part or a joint, walk with ← and →, drag a part to another joint.'
  },
  {
    at: '.area-ledger',
    title: 'The sum, part by part',
    words: 'On the same axis each part adds its step. Filled: measured. Dashed: only published, so measure it.'
  },
  {
    at: '.sheet',
    title: 'What is chosen is changed here',
    words:
      'Lengths, faces, glass. In a gap: the parts of your drawer that fit. Everything is saved, and Ctrl Z undoes any step. F1 in a field explains it.'
  },
  {
    at: '[data-find], [data-verdict]',
    title: 'Let it find the rings',
    words:
      'F looks through the whole drawer for the stack that puts the sensor on the spot, and shows each on the rail before you take it. Try it when the tour is over.'
  }
];
