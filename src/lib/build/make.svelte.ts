import {
  drilledHoles,
  madeOperation,
  MOST_VARIANTS,
  partToMake,
  type FaceAsked,
  type MadeAnswer,
  type MadeAsked,
  type MadePart,
  type VariantChange
} from '@lodestone/core/finder';
import type { Part } from '@lodestone/core/drawer';
import { portInWords } from '@lodestone/core/joint';
import { plainMm } from '@lodestone/core/why';
import {
  findElement,
  isCamera,
  isSolid,
  type CameraElement,
  type Element,
  type Operation,
  type Train
} from '@lodestone/core/train';

/** A variant as somebody has put it together. */
export interface VariantDraft {
  id: number;
  /** What was typed; named after what is otherwise where empty. */
  name: string;
  without: readonly string[];
  /** Part of the drawer that is the camera in it. */
  cameraPart: string | undefined;
}

/** What somebody asks of a part and its variants. */
export interface MadeDraft {
  asked: MadeAsked;
  variants: readonly VariantDraft[];
}

export interface MadeVariant {
  draft: VariantDraft;
  name: string;
  change: VariantChange;
  answer: MadeAnswer;
}

type Side = 'sky' | 'camera';

/** What is asked of a part to have made for one place of a train, and what comes of it. */
export class Making {
  readonly place: string;
  asked = $state.raw<MadeAsked>({});
  variants = $state.raw<readonly VariantDraft[]>([{ id: 0, name: '', without: [], cameraPart: undefined }]);
  readonly #train: () => Train;
  readonly #parts: () => readonly Part[];
  #next = 1;

  /** Cameras of the drawer that may stand in a variant. */
  readonly cameras = $derived.by(() =>
    this.#parts().flatMap(({ partId, element }): { partId: string; camera: CameraElement }[] =>
      isCamera(element) ? [{ partId, camera: element }] : []
    )
  );

  readonly made = $derived.by((): MadeVariant[] => {
    const train = this.#train();
    return this.variants.map((draft) => {
      const change = this.#changeOf(draft);
      return {
        draft,
        change,
        name: this.#nameOf(draft, train),
        answer: partToMake(train, this.place, this.asked, change)
      };
    });
  });

  /**
   * @param place id of a gap, or of the part that is made otherwise
   * @param draft what was asked before
   */
  constructor(place: string, train: () => Train, parts: () => readonly Part[], draft?: MadeDraft) {
    this.place = place;
    this.#train = train;
    this.#parts = parts;
    if (!draft) return;
    this.asked = draft.asked;
    this.variants = draft.variants;
    this.#next = 1 + Math.max(...draft.variants.map(({ id }) => id));
  }

  /** What is asked, to go on from another time. */
  get draft(): MadeDraft {
    return { asked: this.asked, variants: this.variants };
  }

  get element(): Element | undefined {
    return findElement(this.#train(), this.place);
  }

  /** What may be left out of a variant: everything but the place, what sets the back focus, and the camera. */
  get optional(): Element[] {
    return this.#train().elements.filter(
      (element) =>
        element.id !== this.place &&
        isSolid(element) &&
        !isCamera(element) &&
        !('corrector' in element && element.corrector)
    );
  }

  set<K extends keyof MadeAsked>(key: K, to: MadeAsked[K] | undefined): undefined {
    const { [key]: _old, ...rest } = this.asked;
    this.asked = (to === undefined ? rest : { ...rest, [key]: to }) as MadeAsked;
    return undefined;
  }

  setFace<K extends keyof FaceAsked>(side: Side, key: K, to: FaceAsked[K] | undefined): undefined {
    const { [key]: _old, ...rest } = this.asked[side] ?? {};
    return this.set(side, (to === undefined ? rest : { ...rest, [key]: to }) as FaceAsked);
  }

  get canAdd(): boolean {
    return this.variants.length < MOST_VARIANTS;
  }

  add(): void {
    if (!this.canAdd) return;
    this.variants = [...this.variants, { id: this.#next++, name: '', without: [], cameraPart: undefined }];
  }

  change(id: number, to: Partial<Omit<VariantDraft, 'id'>>): void {
    this.variants = this.variants.map((each) => (each.id === id ? { ...each, ...to } : each));
  }

  remove(id: number): void {
    this.variants = this.variants.filter((each) => each.id !== id);
  }

  /** What makes a train of one of the variants: one change, as the part stands in it. */
  operationOf({ change, answer }: MadeVariant): Operation | undefined {
    return answer.ok ? madeOperation(this.#train(), answer, change, noteOf(answer)) : undefined;
  }

  #changeOf({ without, cameraPart }: VariantDraft): VariantChange {
    const camera = this.cameras.find(({ partId }) => partId === cameraPart);
    return { without, ...(camera && { camera: { ...camera.camera, partId: camera.partId } }) };
  }

  #nameOf({ name, without, cameraPart }: VariantDraft, train: Train): string {
    if (name.trim() !== '') return name.trim();
    const camera = this.cameras.find(({ partId }) => partId === cameraPart)?.camera.name;
    const left = without.flatMap((id) => findElement(train, id)?.name ?? []);
    const words = [...(camera ? [`with ${camera}`] : []), ...left.map((each) => `without ${each}`)];
    return words.length === 0 ? `${train.name} as it is` : words.join(', ');
  }
}

/** What a workshop was asked for, as a note on the part. */
export function noteOf({ spec }: MadePart): string {
  const faces = (['sky', 'camera'] as const).flatMap((side) => {
    const flange = spec.flanges?.[side];
    const holes = drilledHoles(spec[side], spec.screws?.[side], spec.lengthMm);
    if (!flange && !holes) return [];
    const words = [
      ...(flange
        ? [`flange with bayonet ${flange.bayonet} ${flange.gender}, ${plainMm(flange.thicknessMm)} thick`]
        : []),
      holes?.callout ?? portInWords(spec[side])
    ];
    return [`${side} side ${words.join(', ')}`];
  });
  return (
    [`Made to measure: ${plainMm(spec.lengthMm)} ±${plainMm(spec.toleranceMm)} mm turned`, ...faces].join('; ') + '.'
  );
}
