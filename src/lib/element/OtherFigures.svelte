<script lang="ts">
  import { glassOf, type Glass, type SolidElement } from '@lodestone/core/train';
  import ListEditor from './ListEditor.svelte';
  import Section from './Section.svelte';

  /** What else is published of a part's length, and of the thickness of its glass, each with its source. */
  const { at, element }: { at: string; element: SolidElement } = $props();

  const lengths = $derived(element.published ?? []);
  const plates = $derived<readonly Glass[]>(glassOf(element) ?? []);
  /** A thickness of another source, and the place of its plate among all. */
  interface Thickness {
    plate: string;
    source: string;
    lengthMm: number;
  }
  const thicknesses = $derived(
    plates.flatMap(({ published = [] }, index) =>
      published.map((each): Thickness => ({ plate: String(index), ...each }))
    )
  );
  const names = $derived(plates.map(({ name }, index) => [String(index), name ?? `plate ${index + 1}`] as const));
  const count = $derived(lengths.length + thicknesses.length);

  /** The first plate stands where none is stated. */
  const toPlates = (rows: readonly Thickness[]): unknown =>
    plates.map(({ published: _before, ...plate }, index) => {
      const own = rows.filter((row) => Number(row.plate ?? 0) === index);
      return own.length === 0
        ? plate
        : { ...plate, published: own.map(({ source, lengthMm }) => ({ source, lengthMm })) };
    });
</script>

<Section title="Other published lengths" gist={count === 0 ? 'none' : String(count)}>
  <p class="text-muted text-xs">
    What another page, leaflet or seller states. Until the part is measured, figures that differ are told.
  </p>
  <ListEditor
    title="Lengths by others"
    entryName="length"
    {at}
    path={['published']}
    entries={lengths}
    columns={[
      { key: 'source', label: 'Source', kind: 'text', required: true },
      { key: 'lengthMm', label: 'Length', kind: 'length', required: true }
    ]}
    fresh={() => ({ source: 'leaflet', lengthMm: element.lengthMm })}
  />
  {#if plates.length > 0}
    <ListEditor
      title="Thicknesses by others"
      entryName="thickness"
      {at}
      path={['glass']}
      entries={thicknesses}
      columns={[
        { key: 'plate', label: 'Glass', kind: 'choice', options: names, width: 'w-[6.2rem]' },
        { key: 'source', label: 'Source', kind: 'text', required: true },
        { key: 'lengthMm', label: 'Thickness', kind: 'length', required: true }
      ]}
      fresh={(): Thickness => ({ plate: '0', source: 'leaflet', lengthMm: plates[0]!.thicknessMm })}
      toDocument={toPlates}
    />
  {/if}
</Section>
