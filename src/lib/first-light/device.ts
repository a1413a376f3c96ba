import type { FocusFrame, FocuserState } from '@lodestone/core/focus';
import { ask, settled } from '$lib/api/ask.ts';

type Command = { do: 'move'; to: number } | { do: 'zero' } | { do: 'frame' };

const tell = async (trainId: string, command: Command): Promise<unknown> =>
  settled(await ask('POST', `/api/trains/${trainId}/focuser`, command));

/** The focuser and camera that ship; the page knows no more of them than of real ones. */
export const device = {
  state: async (trainId: string): Promise<FocuserState> =>
    settled(await ask('GET', `/api/trains/${trainId}/focuser`)) as FocuserState,
  move: async (trainId: string, to: number): Promise<FocuserState> =>
    (await tell(trainId, { do: 'move', to: Math.round(to) })) as FocuserState,
  zero: async (trainId: string): Promise<FocuserState> => (await tell(trainId, { do: 'zero' })) as FocuserState,
  frame: async (trainId: string): Promise<FocusFrame> => (await tell(trainId, { do: 'frame' })) as FocusFrame
};
