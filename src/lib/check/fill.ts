import { tick } from 'svelte';

/**
 * Brings a field of the inspector into sight and puts the focus into it; where it has to be begun first, what begins
 * it.
 *
 * @param keys of the element, as the document has them
 * @returns whether there is such a field
 */
export async function openField(keys: readonly string[]): Promise<boolean> {
  await tick();
  const inspector = document.getElementById('inspector');
  const fields = [...(inspector?.querySelectorAll<HTMLElement>('[data-field]') ?? [])];
  const begins = (words: string): HTMLElement | undefined =>
    fields.find(({ dataset: { field } }) => field === words || field?.startsWith(`${words}.`));
  const target =
    begins(keys.join('.')) ?? inspector?.querySelector<HTMLElement>(`[data-facet="${keys[0]}"]`) ?? begins(keys[0]!);
  if (!target) return false;
  target.closest('details')?.setAttribute('open', '');
  await tick();
  target.scrollIntoView({ block: 'center' });
  // What is explained beside a field is a button too: the field itself comes first.
  const input = target.querySelector<HTMLElement>('input, select');
  (input ?? (target.matches('button') ? target : target.querySelector<HTMLElement>('button')))?.focus();
  return true;
}
