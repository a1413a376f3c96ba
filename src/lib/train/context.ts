import { getContext, setContext } from 'svelte';
import type { TrainSession } from './session.svelte.ts';

const KEY = Symbol('train');
export const provideTrain = (session: TrainSession): TrainSession => setContext(KEY, session);
export const useTrain = (): TrainSession => getContext<TrainSession>(KEY);
