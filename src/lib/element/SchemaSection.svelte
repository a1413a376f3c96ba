<script lang="ts">
  import { capitalised } from '@lodestone/core/why';
  import { fieldOf, type SolidElement } from '@lodestone/core/train';
  import { useEditing } from './editing.ts';
  import Field from './Field.svelte';
  import Section from './Section.svelte';
  import type { FieldSpec, SectionSpec } from './sections.ts';
  import Tick from './Tick.svelte';
  import type { Snippet } from 'svelte';

  interface Props {
    spec: SectionSpec;
    element: SolidElement;
    /** What stands below the fields. */
    children?: Snippet;
  }
  const { spec, element, children }: Props = $props();
  const editing = useEditing();

  const { facet } = $derived(spec);
  const at = $derived(element.id);
  const hasFacet = $derived(facet === undefined || facet.key in element);
  const fields = $derived(spec.fields.filter(({ applies }) => applies?.(element) ?? true));

  const valueAt = ({ path }: FieldSpec): unknown =>
    path.reduce<unknown>(
      (node, key) =>
        typeof node === 'object' && node !== null ? Object.entries(node).find(([k]) => k === key)?.[1] : undefined,
      element
    );
  const asField = (value: unknown) => (typeof value === 'string' || typeof value === 'number' ? value : undefined);
  const title = ({ label, of, path }: FieldSpec): string =>
    capitalised(label ?? fieldOf(of, path.at(-1)!).title ?? path.at(-1)!);
  const set = (key: string, to: unknown, label: string) => editing.dispatch({ op: 'set', at, path: [key], to }, label);
</script>

<Section title={spec.title} gist={spec.gist(element)} open={facet?.drop !== undefined && hasFacet}>
  {#if hasFacet}
    <div class={['grid gap-2', spec.columns === 3 ? 'grid-cols-3' : 'grid-cols-2']}>
      {#each fields as field (field.path.join('.'))}
        {@const { kind, unit } = fieldOf(field.of, field.path.at(-1)!)}
        {#if kind === 'tick'}
          <div class="col-span-full">
            <Tick label={title(field)} {at} path={field.path} current={valueAt(field) === true} />
          </div>
        {:else}
          <Field
            label={title(field)}
            kind={kind === 'other' ? 'text' : kind}
            {...unit === undefined ? {} : { unit }}
            {at}
            path={field.path}
            current={asField(valueAt(field))}
            required={field.required ?? false}
            hint={field.hint}
          />
        {/if}
      {/each}
    </div>
    {#if facet?.drop}
      {@const { words, label } = facet.drop}
      <button class="btn btn-ghost btn-xs justify-self-start" onclick={() => set(facet.key, undefined, label)}
        >{words}</button
      >
    {/if}
    {@render children?.()}
  {:else if facet}
    <button
      class="btn btn-outline btn-xs justify-self-start"
      data-facet={facet.key}
      onclick={() => set(facet.key, facet.begin(element), facet.beginLabel)}>{facet.beginWords}</button
    >
  {/if}
</Section>
