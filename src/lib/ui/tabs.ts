const lockName = (tabId: string): string => `lodestone-tab-${tabId}`;

/** Holds a lock for as long as this tab lives, so that others can tell its work from orphaned work. */
export function announceTab(tabId: string): void {
  void navigator.locks?.request(lockName(tabId), () => new Promise(() => undefined));
}

/** Whether the tab that left work behind is gone. */
export async function isTabGone(tabId: string): Promise<boolean> {
  if (!navigator.locks) return true;
  return navigator.locks.request(lockName(tabId), { ifAvailable: true }, (lock) => lock !== null);
}
