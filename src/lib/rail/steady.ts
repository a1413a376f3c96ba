/** Hands out the object it gave before where the new one is no different, so that what hangs on it stays as it is. */
export class Steady<T> {
  readonly #kept = new Map<string, { json: string; object: T }>();

  /** @param object plain data: what counts is what JSON keeps of it */
  keep(id: string, object: T): T {
    const json = JSON.stringify(object);
    const known = this.#kept.get(id);
    if (known?.json === json) return known.object;
    this.#kept.set(id, { json, object });
    return object;
  }
}
