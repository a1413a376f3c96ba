<script lang="ts">
  import { platesOf } from '@lodestone/core/assembly';
  import type { SolidElement } from '@lodestone/core/train';
  import { FASTENERS, orNothing } from './fasteners.ts';
  import ListEditor, { type Column } from './ListEditor.svelte';

  interface Props {
    element: SolidElement;
  }
  const { element }: Props = $props();

  type Row = ReturnType<typeof platesOf>[number];
  const plates = $derived(platesOf(element));
  const COLUMNS: Column<Row>[] = [
    { key: 'name', label: 'Comes apart into', kind: 'text', required: true, width: 'min-w-24' },
    { key: 'marks', label: 'Right way round', kind: 'text', width: 'min-w-24' }
  ];
  /** A plate of which only its name is known stays a name. */
  const toDocument = (rows: readonly Row[]): unknown =>
    orNothing(
      rows.map(({ name, fasteners, marks }) =>
        fasteners.length === 0 && !marks
          ? name
          : { name, ...(fasteners.length > 0 ? { fasteners } : {}), ...(marks ? { marks } : {}) }
      )
    );
</script>

<ListEditor
  title="Comes apart into"
  entryName="plate"
  at={element.id}
  path={['halves']}
  entries={plates}
  columns={COLUMNS}
  fresh={() => ({ name: 'front plate', fasteners: [], marks: undefined })}
  {toDocument}
/>
{#each plates as plate, index (index)}
  <details class="text-sm">
    <summary class="text-muted cursor-pointer text-xs">Screws of {plate.name}</summary>
    <ListEditor
      title="Screws of {plate.name}"
      entryName="screw"
      at={element.id}
      path={['halves']}
      entries={plate.fasteners}
      columns={FASTENERS}
      fresh={() => ({ thread: 'M3', count: 4 })}
      toDocument={(fasteners) => toDocument(plates.with(index, { ...plate, fasteners }))}
    />
  </details>
{/each}
