import {
  LEAST_BACK_FOCUS_MM,
  begunCorrector,
  isUnnamed,
  unnamedHost,
  readCorrectorLine,
  readHostLine,
  usualBayonet,
  usualHostFace
} from '@lodestone/core/catalogue';
import {
  complaintInWords,
  readTrain,
  type BodyElement,
  type CameraElement,
  type Corrector,
  type Host,
  type Port,
  type Train
} from '@lodestone/core/train';
import type { LengthUnit } from '@lodestone/core/why';
import { elementFrom, startTrain } from '$lib/train/starters.ts';
import { parseFactor, parseNumber } from '$lib/ui/parse.ts';
import type { Choice } from '$lib/ui/PickInput.svelte';
import { SvelteSet } from 'svelte/reactivity';
import { previewOf, type FirstTrain } from './firstTrain.ts';
import type { CorrectorPick } from './choices.ts';

/** What is typed and picked, as it is kept over a reload. */
export interface Draft {
  hostText: string;
  /** Picked from a train of one's own. */
  host: Host | undefined;
  /** Said by the owner, where the line does not. */
  hostKind: Host['kind'] | undefined;
  flatStated: boolean | undefined;
  hostFace: Port | undefined;
  correctorText: string;
  corrector: CorrectorPick | undefined;
  datum: NonNullable<Corrector['datum']>;
  datumOffset: string;
  magnification: string;
  flattens: boolean;
  correctorFace: Port | undefined;
  cameraText: string;
  camera: CameraElement | undefined;
  cameraFace: Port | undefined;
  name: string;
}

const EMPTY: Draft = {
  hostText: '',
  host: undefined,
  hostKind: undefined,
  flatStated: undefined,
  hostFace: undefined,
  correctorText: '',
  corrector: undefined,
  datum: 'shoulder',
  datumOffset: '',
  magnification: '',
  flattens: false,
  correctorFace: undefined,
  cameraText: '',
  camera: undefined,
  cameraFace: undefined,
  name: ''
};

/** What a train begins with, in the order of the page. */
export type Step = 'host' | 'corrector' | 'camera';

const told = ({ label, hint }: Choice<unknown>): string => `${label}${hint ? `, ${hint}` : ''}`;

/** The three things a train begins with, and what they make. */
export class Start implements FirstTrain {
  draft = $state<Draft>({ ...EMPTY });
  /** Steps that were left once: what they hold may be complained of. */
  readonly #left = new SvelteSet<Step>();
  readonly #unit: () => LengthUnit;

  constructor(unit: () => LengthUnit) {
    this.#unit = unit;
  }

  /** Goes on with what was kept; what is no draft is left alone. */
  restore(kept: unknown): void {
    if (typeof kept === 'object' && kept !== null) this.draft = { ...EMPTY, ...kept };
  }

  clear(): void {
    this.draft = { ...EMPTY };
    this.#left.clear();
  }

  leave(...steps: readonly Step[]): void {
    for (const step of steps) this.#left.add(step);
  }

  readonly #line = $derived.by(() => readHostLine(this.draft.hostText));

  readonly hostKind = $derived.by<Host['kind']>(() => {
    const { host, hostKind } = this.draft;
    return host?.kind ?? hostKind ?? (this.#line.ok ? this.#line.host.kind : undefined) ?? 'refractor';
  });

  /** Only what somebody has stated: neither a petzval nor a lens is taken as flat unasked. */
  readonly flatField = $derived.by(() => this.draft.flatStated ?? false);

  /** A lens whose own flange sets the back focus. */
  readonly lens = $derived.by(() => (this.draft.corrector?.kind === 'lens' ? this.draft.corrector.mount : undefined));

  readonly hostFace = $derived.by((): Port => {
    if (this.draft.hostFace) return this.draft.hostFace;
    const bayonet = this.#line.ok ? this.#line.host.bayonet : undefined;
    return this.lens?.camera ?? (bayonet === undefined ? usualHostFace(this.hostKind) : usualBayonet(bayonet));
  });

  readonly host = $derived.by((): Host | undefined => {
    if (this.draft.host) return this.draft.host;
    if (!this.#line.ok) return undefined;
    const { apertureMm, focalLengthMm, name } = this.#line.host;
    return {
      name: name || unnamedHost(this.hostKind),
      kind: this.hostKind,
      apertureMm,
      focalLengthMm,
      camera: this.hostFace,
      ...(this.flatField ? { flatField: true } : {}),
      ...(this.lens ? { corrector: this.lens.corrector } : {}),
      ...(this.#lensBackFocus === undefined ? {} : { corrector: { backFocusMm: this.#lensBackFocus } })
    };
  });

  #lengthIn(text: string, leastMm = 0): number | undefined {
    const parsed = parseNumber(text, this.#unit());
    const mm = parsed.ok ? parsed.parsed : undefined;
    return mm !== undefined && mm > leastMm ? mm : undefined;
  }

  /** What is typed where a corrector is asked for, beyond a number alone: `0.7x 105`. */
  readonly #correctorLine = $derived.by(() =>
    this.draft.corrector ? undefined : readCorrectorLine(this.draft.correctorText)
  );

  /** The back focus in it, mm. */
  readonly backFocusMm = $derived.by(() =>
    this.draft.corrector
      ? undefined
      : (this.#lengthIn(this.draft.correctorText, LEAST_BACK_FOCUS_MM) ?? this.#correctorLine?.backFocusMm)
  );

  /** Of a camera lens the number is its own flange distance: nothing stands behind it. */
  readonly #lensBackFocus = $derived.by(() =>
    this.hostKind === 'camera-lens' && !this.draft.host ? this.backFocusMm : undefined
  );

  /** From the shoulder to what the back focus is counted from. */
  readonly offset = $derived.by(() => parseNumber(this.draft.datumOffset, this.#unit()));
  readonly magnification = $derived.by(() => parseFactor(this.draft.magnification));

  readonly #offsetMm = $derived.by(() => (this.offset.ok ? this.offset.parsed : undefined));

  readonly corrector = $derived.by((): BodyElement | undefined => {
    const { corrector: picked, datum: chosen, flattens, correctorFace } = this.draft;
    if (picked?.kind === 'element') return picked.element;
    if (this.backFocusMm === undefined || this.#lensBackFocus !== undefined) return undefined;
    const line = this.#correctorLine;
    const magnification = (this.magnification.ok ? this.magnification.parsed : undefined) ?? line?.magnification;
    const datum = chosen === 'shoulder' ? (line?.datum ?? chosen) : chosen;
    const asks: Corrector = {
      backFocusMm: this.backFocusMm,
      ...(datum === 'shoulder' ? {} : { datum }),
      ...(datum !== 'shoulder' && this.#offsetMm !== undefined ? { datumOffsetMm: this.#offsetMm } : {}),
      ...(magnification === undefined ? {} : { magnification }),
      ...(flattens || line?.flattensField ? { flattensField: true } : {})
    };
    return begunCorrector(line?.name ?? '', asks, correctorFace);
  });

  readonly isCorrectorSaid = $derived.by(
    () =>
      this.corrector !== undefined ||
      this.#lensBackFocus !== undefined ||
      this.draft.corrector !== undefined ||
      this.draft.host?.corrector !== undefined
  );

  readonly camera = $derived.by((): CameraElement | undefined => {
    if (this.draft.camera) return this.draft.camera;
    const flangeMm = this.#lengthIn(this.draft.cameraText);
    if (flangeMm === undefined) return undefined;
    return elementFrom({
      kind: 'camera',
      name: 'My camera',
      lengthMm: flangeMm,
      sky: this.draft.cameraFace
    }) as CameraElement;
  });

  /** What the line means if it is a lens, where it may be. */
  readonly asLens = $derived.by(() => (!this.draft.host && this.#line.ok ? this.#line.otherwise : undefined));

  takeAsLens(): void {
    this.draft.hostText = `lens ${this.draft.hostText.trim()}`;
  }

  pickHost(choice: Choice<Host>): void {
    [this.draft.host, this.draft.hostText] = [choice.of, choice.label];
  }

  pickCorrector(choice: Choice<CorrectorPick>): void {
    [this.draft.corrector, this.draft.correctorText] = [choice.of, told(choice)];
  }

  pickCamera(choice: Choice<CameraElement>): void {
    [this.draft.camera, this.draft.cameraText] = [choice.of, told(choice)];
  }

  /** The first step that is not done. */
  readonly next = $derived.by((): Step | undefined => {
    if (!this.host) return 'host';
    if (!this.isCorrectorSaid) return 'corrector';
    return this.camera ? undefined : 'camera';
  });

  /** The first thing still missing, in the order of the page. */
  readonly missing = $derived.by((): string | undefined => {
    if (this.next === 'host') return 'the telescope';
    if (this.next === 'corrector') return 'what sets the back focus';
    const { datum, corrector } = this.draft;
    if (datum === 'last-surface' && !corrector && this.#offsetMm === undefined) return 'the depth of the last surface';
    return this.next && 'the camera';
  });

  readonly suggestedName = $derived.by(() => (this.host && !isUnnamed(this.host) ? this.host.name : 'New train'));

  readonly #reading = $derived.by(() =>
    this.missing === undefined && this.host && this.camera
      ? readTrain(
          startTrain({
            name: this.draft.name.trim() || this.suggestedName,
            host: this.host,
            corrector: this.corrector,
            camera: this.camera
          })
        )
      : undefined
  );

  /** The train, where everything is there and goes together. */
  readonly train = $derived.by((): Train | undefined => (this.#reading?.ok ? this.#reading.document : undefined));

  readonly preview = $derived.by(() => this.train && previewOf(this.train));

  /** Why what is there makes no train. */
  readonly complaint = $derived.by((): string | undefined => {
    if (this.#reading === undefined || this.#reading.ok) return undefined;
    const [first] = this.#reading.complaints;
    return first && complaintInWords(first);
  });

  /** What is wrong with a step; it is only complained of once it was left. */
  wrong(step: Step): string | undefined {
    const { hostText, correctorText, cameraText } = this.draft;
    const [text, isSaid] = {
      host: [hostText, this.host !== undefined] as const,
      corrector: [correctorText, this.isCorrectorSaid] as const,
      camera: [cameraText, this.camera !== undefined] as const
    }[step];
    if (isSaid || text.trim() === '' || !this.#left.has(step)) return undefined;
    if (step === 'host') return this.#line.ok ? undefined : this.#line.message;
    const asks = step === 'corrector' ? 'its back focus, as 55' : 'its flange distance, as 17.5';
    return `“${text.trim()}” is none of these. Pick one, or type ${asks}.`;
  }
}
