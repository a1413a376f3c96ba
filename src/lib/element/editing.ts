import type { Operation } from '@lodestone/core/train';
import { getContext, setContext } from 'svelte';

/** Whatever the fields of an element change: the open train, or a part of the drawer. */
export interface Editing {
  /**
   * Carries out a change, unless what it would make is not valid.
   *
   * @param run changes of the same run are undone together, as typing in one field is
   * @returns why it was refused
   */
  dispatch(operation: Operation, label: string, run?: string): string | undefined;
  /** Focal length of the host a table of back focus is for, mm, where there is one. */
  readonly focalLengthMm?: number | undefined;
}

const KEY = Symbol('editing');
export const provideEditing = (editing: Editing): Editing => setContext(KEY, editing);
export const useEditing = (): Editing => getContext<Editing>(KEY);
