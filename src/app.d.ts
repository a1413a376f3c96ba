import type { Preferences } from '$lib/ui/preferences.ts';

declare global {
  namespace App {
    interface Locals {
      preferences: Preferences;
      databaseLost?: boolean;
    }
    interface Error {
      message: string;
    }
  }
  namespace NodeJS {
    interface Process {
      on(event: 'sveltekit:shutdown', listener: () => void): this;
    }
  }
}

export {};
