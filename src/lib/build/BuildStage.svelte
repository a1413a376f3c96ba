<script lang="ts">
  import {
    canBeMade,
    findElement,
    isSeated,
    partsAsText,
    readPartsText,
    type Element,
    type Operation
  } from '@lodestone/core/train';
  import type { Adapter } from '@lodestone/core/joint';
  import type { Part } from '@lodestone/core/drawer';
  import { newId, placingBefore } from '$lib/train/starters.ts';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { isTyping, useCommands } from '$lib/ui/commands.svelte.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import ElementInspector from '$lib/workbench/ElementInspector.svelte';
  import Later from '$lib/ui/Later.svelte';
  import JointInspector from '$lib/workbench/JointInspector.svelte';
  import Workbench from '$lib/workbench/Workbench.svelte';
  import AddPart from './AddPart.svelte';
  import { Finder } from './finder.svelte.ts';
  import BuildVerdict from './BuildVerdict.svelte';
  import MendingAdapter from './MendingAdapter.svelte';
  import OpenPlace from './OpenPlace.svelte';
  import { page } from '$app/state';
  import { onDestroy, onMount, tick } from 'svelte';

  // What is not seen at once is fetched when it is asked for, or when the page is still.
  const STILL_MS = 1500;
  const finderPanel = () => import('./FinderPanel.svelte');
  const tour = () => import('./BuildTour.svelte');
  const makePart = () => import('./MakePart.svelte');

  const train = useTrain();
  const notices = useNotices();

  const display = useDisplay();
  const finder = new Finder(train, useDrawer(), () => display.unit);
  onDestroy(() => finder.hide());
  let adding = $state(false);
  let touring = $state(false);
  let target = $state.raw<{ before: string } | { replace: string }>();

  /** What Build does with what is chosen on the rail. */
  const MENU = ['add', 'from-drawer', 'scan', 'replace', 'make', 'copy-part', 'find'];

  const { selection } = $derived(train);
  const selectedId = $derived('id' in selection ? selection.id : undefined);
  const element = $derived(selectedId === undefined ? undefined : findElement(train.document, selectedId));

  const tell = (refusal: string | undefined) => {
    if (refusal) notices.complain(refusal);
  };

  function addAt(jointId: string) {
    target = { before: jointId };
    adding = true;
  }

  /** At a joint: there. At an element: on its camera side. */
  function placeForNew(): string {
    if (selection.kind === 'joint') return selection.id;
    const { elements } = train.document;
    const index = elements.findIndex(({ id }) => id === selectedId);
    return (elements[index + 1] ?? elements.at(-1)!).id;
  }
  const add = () => addAt(placeForNew());

  /** At a joint or an open place: there. At a part: at the joint on its camera side. */
  async function fromDrawer() {
    if (selection.kind !== 'joint' && element?.kind !== 'gap') {
      const { elements } = train.document;
      const index = elements.findIndex(({ id }) => id === selectedId);
      const next = elements.slice(index + 1).find(isSeated) ?? elements.at(-1)!;
      train.select(next.kind === 'gap' ? { kind: 'element', id: next.id } : { kind: 'joint', id: next.id });
      await tick();
    }
    document.getElementById('from-drawer')?.focus();
  }

  /** The parts that are chosen: an open place is none. */
  const copyable = $derived(
    train.document.elements.filter(({ id, kind }) => kind !== 'gap' && train.isChosen(id)) as readonly Element[]
  );
  const textOf = (parts: readonly Element[]): string => partsAsText($state.snapshot(parts) as Element[]);
  const sayCopied = ([first, ...others]: readonly Element[]) =>
    notices.say(
      others.length > 0
        ? `${others.length + 1} parts were copied: paste them into this train or another one.`
        : `${first?.name ?? ''} was copied: paste it into this train or another one.`
    );

  function oncopy(event: ClipboardEvent) {
    // What is marked on the page, or in a field, is meant before the part.
    if (copyable.length === 0 || isTyping(event.target) || !(getSelection()?.isCollapsed ?? true)) return;
    event.clipboardData?.setData('text/plain', textOf(copyable));
    event.preventDefault();
    sayCopied(copyable);
  }
  function onpaste(event: ClipboardEvent) {
    if (isTyping(event.target)) return;
    const reading = readPartsText(event.clipboardData?.getData('text/plain') ?? '');
    if (!reading) return;
    event.preventDefault();
    paste(reading);
  }
  function paste(reading: NonNullable<ReturnType<typeof readPartsText>>) {
    if (!reading.ok) return notices.complain(`What was copied is not taken: ${reading.complaints[0]?.message ?? ''}.`);
    const before = placeForNew();
    // The camera of another train is no second one.
    const parts = reading.document.filter(({ kind }) => kind !== 'camera').map((each) => ({ ...each, id: newId() }));
    const [first] = parts;
    if (!first) return notices.complain('A train has one camera: replace it instead.');
    const operations = parts.map((each): Operation => ({ op: 'insert', element: each, before }));
    const what = parts.length === 1 ? first.name : `${parts.length} parts`;
    const refusal = train.dispatch({ op: 'batch', operations }, `Paste ${what}`);
    if (refusal !== undefined) return notices.complain(refusal);
    // All of them, so that they can be moved or removed together.
    train.select({ kind: 'element', id: first.id });
    train.chooseTo(parts.at(-1)!.id);
  }
  const copyPart = () =>
    notices.attempt(async () => {
      if (copyable.length === 0) return;
      await navigator.clipboard.writeText(textOf(copyable));
      sayCopied(copyable);
    });

  /** Place that a part is made for. */
  let making = $state<string>();
  function make() {
    if (element && canBeMade(element)) making = element.id;
  }

  let scanning = $state(false);
  const scanner = () => import('$lib/labels/ScanLabel.svelte');
  /** Puts the part whose label was read where a new one would go, and goes on behind it. */
  function placeScanned(part: Part): string {
    const placing = placingBefore(train.document, part, placeForNew());
    const refusal = train.dispatch(placing, `Place ${part.partId}`);
    if (refusal !== undefined) return refusal;
    train.select({ kind: 'element', id: placing.element.id });
    return `${part.partId} ${part.element.name} was placed. Read the next one, or close.`;
  }

  function replace() {
    if (selection.kind !== 'element') return;
    target = { replace: selection.id };
    adding = true;
  }

  // Come here to be shown round.
  onMount(() => {
    const timer = setTimeout(() => void finderPanel().catch(() => undefined), STILL_MS);
    return () => clearTimeout(timer);
  });
  onMount(() => {
    touring = page.url.searchParams.has('tour');
  });

  useCommands().register([
    { id: 'tour', group: 'Lodestone', title: 'Take the tour of this page', run: () => (touring = true) },
    { id: 'find', group: 'Edit', title: 'Find the stack that fills the gaps', key: 'F', run: () => finder.show() },
    {
      id: 'close-finder',
      group: 'Edit',
      title: 'Close the finder',
      key: 'Escape',
      enabled: () => finder.open,
      run: () => {
        finder.hide();
        document.getElementById('rail')?.focus();
      }
    },
    { id: 'add', group: 'Edit', title: 'Add a part here', key: 'A', otherKey: 'Insert', run: add },
    {
      id: 'from-drawer',
      group: 'Edit',
      title: 'Place a part from the drawer here',
      key: 'D',
      run: () => void fromDrawer()
    },
    {
      id: 'copy-part',
      group: 'Edit',
      get title() {
        return `Copy ${copyable.length > 1 ? `${copyable.length} parts` : 'the part'} (Ctrl C)`;
      },
      enabled: () => copyable.length > 0,
      run: () => void copyPart()
    },
    {
      id: 'scan',
      group: 'Edit',
      title: 'Read a label and place the part here',
      key: 'Shift+L',
      run: () => (scanning = true)
    },
    {
      id: 'replace',
      group: 'Edit',
      title: 'Replace the part',
      key: 'R',
      enabled: () => selection.kind === 'element',
      run: replace
    },
    {
      id: 'make',
      group: 'Edit',
      title: 'Have the part made to measure',
      key: 'Shift+M',
      enabled: () => element !== undefined && canBeMade(element),
      run: make
    }
  ]);
</script>

<svelte:document {oncopy} {onpaste} />

{#snippet finding()}<Later load={finderPanel} of={{ finder }} />{/snippet}

<Workbench onadd={addAt} tool={finder.open ? { title: 'finder', body: finding } : undefined} menu={MENU}>
  {#snippet verdict()}<BuildVerdict {finder} />{/snippet}
  {#snippet ofJoint(joint, view)}
    {#snippet mending(adapter: Adapter)}<MendingAdapter {adapter} before={joint.cameraId} />{/snippet}
    {#snippet place()}<OpenPlace before={joint.cameraId} {view} onadd={() => addAt(joint.cameraId)} />{/snippet}
    <JointInspector {joint} {mending} {place} />
  {/snippet}
  {#snippet ofElement(selected, view)}
    <ElementInspector
      element={selected}
      onreplace={replace}
      onmake={canBeMade(selected) && selected.kind !== 'gap' ? make : undefined}
      onremove={() => tell(train.removeChosen())}
      onshift={(by) => tell(train.shift(by))}
    >
      {#snippet place()}<OpenPlace before={selected.id} {view} onadd={add} onmake={make} />{/snippet}
    </ElementInspector>
  {/snippet}
</Workbench>

{#if scanning}
  <Later
    load={scanner}
    of={{
      hint: 'Hold the code of a part’s label before the camera: the part goes where the rail is chosen, the next one behind it.',
      onfound: placeScanned,
      onclose: () => (scanning = false)
    }}
  />
{/if}
{#if touring}<Later load={tour} of={{ onend: () => (touring = false) }} />{/if}
{#if making !== undefined}
  <Later load={makePart} of={{ place: making, onclose: () => (making = undefined) }} />
{/if}
<AddPart open={adding} {target} onend={() => (adding = false)} />
