import type { Preferences } from '$lib/ui/preferences.ts';

declare global {
  namespace App {
    interface Locals {
      /** Whose data the request is about. */
      owner: string;
      asking: import('$lib/server/owners/asking.ts').Asking;
      /** Whose train the request is about, where it is another's that is shared. */
      sharedBy?: { name: string; may: import('$lib/api/owners.ts').GuestMay };
      preferences: Preferences;
      /** What to answer instead of the framework's 500, where an error is one that somebody can do something about. */
      refusal?: number;
    }
    interface Error {
      message: string;
    }
    interface Platform {
      req: import('node:http').IncomingMessage;
    }
  }
  namespace NodeJS {
    interface Process {
      on(event: 'sveltekit:shutdown', listener: () => void): this;
    }
  }
}

export {};
