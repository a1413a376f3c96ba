const KEPT_AS = 'lodestone-device';
export const LONGEST_DEVICE_NAME = 60;

/** Shortest side of a screen that is no phone's, CSS px (common practice, no source). */
const TABLET_PX = 600;

function guessedName(): string {
  if (!matchMedia('(pointer: coarse)').matches) return 'Computer';
  return Math.min(screen.width, screen.height) < TABLET_PX ? 'Phone' : 'Tablet';
}

/** What this device is called in the history of a train: as somebody named it, or by its kind; nothing outside a page. */
export const deviceName = (): string | undefined =>
  typeof localStorage === 'undefined' ? undefined : (localStorage.getItem(KEPT_AS) ?? guessedName());

/** Names this device; an empty name gives it that of its kind. @returns its name then */
export function nameDevice(typed: string): string | undefined {
  const name = typed
    .replaceAll(/\p{Cc}|\p{Surrogate}/gu, '')
    .trim()
    .slice(0, LONGEST_DEVICE_NAME);
  if (name === '') localStorage.removeItem(KEPT_AS);
  else localStorage.setItem(KEPT_AS, name);
  return deviceName();
}
