/**
 * Whether a field of a form is in error: what is typed in it would be lost. It gets the focus, so that it is seen.
 *
 * @returns what to say of it; undefined where every field is well
 */
export function fieldInError(form: HTMLElement): string | undefined {
  const field = form.querySelector<HTMLElement>('[aria-invalid="true"]');
  if (!field) return undefined;
  field.focus();
  const name =
    field.getAttribute('aria-label') ?? field.closest('label')?.querySelector('span')?.textContent ?? 'A field';
  return `${name.trim()} has still to be mended, or emptied.`;
}
