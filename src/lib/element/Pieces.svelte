<script lang="ts">
  import { faceOfPiece, withPieceTurned, type Detachable, type Element, type Face } from '@lodestone/core/train';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import PortEditor from '$lib/ui/PortEditor.svelte';
  import { useEditing } from './editing.ts';
  import { FASTENERS, orNothing } from './fasteners.ts';
  import ListEditor, { type Column } from './ListEditor.svelte';
  import Section from './Section.svelte';

  interface Props {
    at: string;
    pieces: readonly Detachable[];
    /** The part they are on; none for the host. */
    element?: Element;
    /** What the length is of, told where some of it is in a piece. */
    lengthMm?: number;
    /** What it is for, said while there is none. */
    about: string;
  }
  const { at, pieces, element, lengthMm, about }: Props = $props();
  const editing = useEditing();
  const display = useDisplay();

  const FACES = [
    ['sky', 'sky'],
    ['camera', 'camera']
  ] as const;
  const isTwoFaced = $derived(element !== undefined && element.kind !== 'camera');
  const columns = $derived<Column<Detachable>[]>([
    { key: 'name', label: 'Name', kind: 'text', required: true, width: 'min-w-24' },
    { key: 'lengthMm', label: 'Length', kind: 'length', required: true },
    ...(isTwoFaced && element
      ? [
          {
            key: 'face',
            label: 'Face',
            kind: 'choice',
            options: FACES,
            inForce: (piece: Detachable): Face => faceOfPiece(element, piece)
          } as const
        ]
      : []),
    { key: 'keptAt', label: 'Kept at', kind: 'text', width: 'min-w-16' }
  ]);
  const set = (to: readonly Detachable[] | undefined, label: string, run?: string) =>
    editing.dispatch({ op: 'set', at, path: ['detachable'], to }, label, run);
  const withPiece = (index: number, key: 'under' | 'fasteners', to: unknown): readonly Detachable[] => {
    const { [key]: _old, ...rest } = pieces[index]!;
    return pieces.with(index, (to === undefined ? rest : { ...rest, [key]: to }) as Detachable);
  };
  const onMm = $derived(pieces.reduce((sum, piece) => sum + (piece.on ? piece.lengthMm : 0), 0));
  let message = $state<string>();
</script>

<Section
  title="Can be taken off"
  open={pieces.length > 0}
  gist={pieces.length === 0 ? 'nothing' : pieces.map(({ name, on }) => `${name} ${on ? 'on' : 'off'}`).join(', ')}
>
  {#if pieces.length === 0}<p class="text-muted text-xs">{about}</p>{/if}
  {#if pieces.length > 0}
    <ul class="grid gap-1">
      {#each pieces as piece, index (index)}
        <li class="flex items-center justify-between gap-2 text-sm">
          <span class="min-w-0">
            <span class="block truncate">{piece.name}, {display.length(piece.lengthMm)}</span>
            <span class="text-muted text-xs"
              >{piece.on ? 'on' : 'taken off'}{!piece.on && piece.keptAt ? `, kept at ${piece.keptAt}` : ''}</span
            >
          </span>
          <button
            class="btn btn-outline btn-xs"
            onclick={() =>
              (message = set(
                withPieceTurned(pieces, index),
                piece.on ? `Take ${piece.name} off` : `Put ${piece.name} on`
              ))}>{piece.on ? 'Take it off' : 'Put it on'}</button
          >
        </li>
      {/each}
    </ul>
  {/if}
  {#if message}<span class="text-error text-xs" role="alert">{message}</span>{/if}
  {#if element && lengthMm !== undefined && onMm > 0}
    <p class="text-muted text-xs">
      {display.length(lengthMm)} + {display.length(onMm)} = {display.length(lengthMm + onMm)} with what is on it.
    </p>
  {/if}
  <ListEditor
    title="What can be taken off"
    entryName="piece"
    {at}
    path={['detachable']}
    entries={pieces}
    {columns}
    fresh={() => ({ name: element?.kind === 'camera' ? 'Nose' : 'Mount', lengthMm: 5, on: true })}
    toDocument={orNothing}
  />
  {#each pieces as piece, index (index)}
    <details class="text-sm">
      <summary class="text-muted cursor-pointer text-xs">Screws of {piece.name}, and the face under it</summary>
      <div class="grid gap-2 py-1">
        <ListEditor
          title="Screws of {piece.name}"
          entryName="screw"
          {at}
          path={['detachable']}
          entries={piece.fasteners ?? []}
          columns={FASTENERS}
          fresh={() => ({ thread: 'M3', count: 4 })}
          toDocument={(screws) => withPiece(index, 'fasteners', orNothing(screws))}
        />
        <PortEditor
          label="Face under it"
          port={piece.under}
          commit={(to) => set(withPiece(index, 'under', to), 'State the face under it', `under-${at}-${index}`)}
        />
      </div>
    </details>
  {/each}
</Section>
