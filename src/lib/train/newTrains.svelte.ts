import { GLASS_RULES, type GlassRule, type Train } from '@lodestone/core/train';

const STORED_AS = 'lodestone.glassRule';
const USUAL: GlassRule = 'paraxial';

/** What new trains begin with, as this browser remembers it. */
export class NewTrains {
  #glassRule = $state<GlassRule>(USUAL);

  get glassRule(): GlassRule {
    return this.#glassRule;
  }

  /** Takes over what is remembered; in the browser only. */
  recall(): void {
    const stored = localStorage.getItem(STORED_AS);
    this.#glassRule = GLASS_RULES.map(([rule]) => rule).find((rule) => rule === stored) ?? USUAL;
  }

  useGlassRule(rule: GlassRule): void {
    this.#glassRule = rule;
    localStorage.setItem(STORED_AS, rule);
  }

  /** A train that begins, with what is to be so in all of them. */
  begin(train: Train): Train {
    return this.#glassRule === USUAL ? train : { ...train, glassRule: this.#glassRule };
  }
}
