import { explain } from '@lodestone/core/check';
import { findElement, type Element } from '@lodestone/core/train';
import type { Explanation } from '@lodestone/core/why';
import type { Joint } from '@lodestone/core/joint';
import { RailView } from '$lib/rail/view.svelte.ts';
import { zoomControl, type ZoomControl } from '$lib/rail/zoom.ts';
import { useTrain } from '$lib/train/context.ts';
import type { TrainSession } from '$lib/train/session.svelte.ts';
import { useCommands } from '$lib/ui/commands.svelte.ts';
import { useNotices } from '$lib/ui/notices.svelte.ts';
import { provideWhy, type WhyState } from '$lib/ui/why.svelte.ts';
import { frameCommands, undoCommands } from './commands.ts';

/** What every stage of a train has round it: its rail, what is selected, what is asked "why?". */
export class Frame {
  readonly view: RailView;
  readonly zoom: ZoomControl;
  readonly why: WhyState = provideWhy();
  /** Whether its stage has the rail folded to a strip, until somebody wants it. */
  readonly folds: boolean;
  railIsOpen = $state(true);
  readonly #train: TrainSession = useTrain();
  readonly #notices = useNotices();

  /**
   * @param folds the rail is folded to a strip, until somebody wants it: the stage has another picture, and its own keys
   * @param toggleTable shows the ledger as a table or as a staircase, where the stage has one
   */
  constructor({ folds = false, toggleTable }: { folds?: boolean; toggleTable?: () => void } = {}) {
    const train = this.#train;
    this.view = new RailView(() => train.layout);
    this.zoom = zoomControl(this.view);
    this.folds = folds;
    this.railIsOpen = !folds;
    useCommands().register(
      folds
        ? [
            ...undoCommands(train, this.tell),
            {
              id: 'fold-rail',
              group: 'Rail',
              title: 'Open or fold the rail',
              key: 'Shift+G',
              run: () => this.foldRail()
            }
          ]
        : frameCommands(train, this.view, this.zoom, this.tell, this.#notices, toggleTable)
    );
  }

  /** Opens the rail where it is folded, or folds it again. */
  foldRail(): void {
    this.railIsOpen = !this.railIsOpen;
  }

  /** Says why something was refused. */
  readonly tell = (refusal: string | undefined): void => {
    if (refusal) this.#notices.complain(refusal);
  };

  /** The element that is selected, where one is. */
  readonly element: Element | undefined = $derived.by(() => {
    const { selection, document } = this.#train;
    return selection.kind === 'element' ? findElement(document, selection.id) : undefined;
  });

  /** The joint that is selected, where one is. */
  readonly joint: Joint | undefined = $derived.by(() => {
    const { selection, assessment } = this.#train;
    return selection.kind === 'joint'
      ? assessment.ledger.joints.find(({ cameraId }) => cameraId === selection.id)
      : undefined;
  });

  /** What is asked just now, explained. */
  readonly explanation: Explanation | undefined = $derived.by(
    () => this.why.subject && explain(this.#train.assessment.facts, this.why.subject)
  );
}
