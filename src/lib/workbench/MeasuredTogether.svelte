<script lang="ts">
  import { ASSUMED_CALIPER_MM } from '@lodestone/core/doubt';
  import { TRAIN, nameOf, type Group, type SolidElement } from '@lodestone/core/train';
  import ListEditor from '$lib/element/ListEditor.svelte';
  import Section from '$lib/element/Section.svelte';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';

  /** Elements measured as one, from the sky shoulder of this one to the camera shoulder of a later one. */
  const { element }: { element: SolidElement } = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();

  const groups = $derived(train.document.groups ?? []);
  const own = $derived(groups.filter(({ from }) => from === element.id));
  const index = $derived(train.document.elements.findIndex(({ id }) => id === element.id));
  /** Where a measurement that begins here may end: before the next open place. */
  const ends = $derived.by(() => {
    const later = train.document.elements.slice(index + 1);
    const open = later.findIndex(({ kind }) => kind === 'gap');
    const { nested } = train.assessment.ledger;
    if (nested.has(index)) return [];
    return (open < 0 ? later : later.slice(0, open)).filter(
      ({ kind }, at) => kind !== 'shim' && !nested.has(index + 1 + at)
    );
  });
  /** The list is the whole train's; here only what begins at this element is changed. */
  const together = (mine: readonly Group[]) => {
    const all = [...groups.filter(({ from }) => from !== element.id), ...mine];
    return all.length === 0 ? undefined : all;
  };

  function begin(to: string) {
    const last = train.document.elements.findIndex(({ id }) => id === to);
    const { steps } = train.layout;
    const of = train.document.elements.slice(index, last + 1).map(({ id }) => id);
    const reckoned = steps
      .filter(({ id }) => of.includes(id))
      .reduce((sum, step) => sum + step.endMm - step.startMm, 0);
    const group: Group = {
      from: element.id,
      to,
      of,
      lengthMm: Number(Math.max(0, reckoned).toFixed(3)),
      uncertaintyMm: ASSUMED_CALIPER_MM
    };
    notices.complain(
      train.dispatch(
        { op: 'set', at: TRAIN, path: ['groups'], to: together([...own, group]) },
        `Measure ${element.name} to ${nameOf(train.document, to)} together`
      )
    );
  }
</script>

<Section
  title="Measured together"
  gist={own.length === 0 ? 'no' : `to ${own.map(({ to }) => nameOf(train.document, to)).join(', ')}`}
>
  <p class="text-muted text-xs">
    A stack measured from shoulder to shoulder is known better than its parts added up, and counts in their place.
  </p>
  {#if own.length > 0}
    <ListEditor
      title="Measured together"
      entryName="measurement"
      at={TRAIN}
      path={['groups']}
      entries={own}
      toDocument={together}
      columns={[
        { key: 'to', label: 'To', kind: 'choice', options: ends.map(({ id, name }) => [id, name]), width: 'w-24' },
        { key: 'lengthMm', label: `Length, ${display.unit}`, kind: 'length', required: true },
        { key: 'uncertaintyMm', label: 'U (k = 2)', kind: 'length' },
        { key: 'instrument', label: 'With', kind: 'text' }
      ]}
    />
  {:else if ends.length > 0}
    <label class="grid gap-0.5">
      <span class="text-muted text-xs">From its sky shoulder to the camera shoulder of</span>
      <select class="select select-sm w-full" value="" onchange={({ currentTarget }) => begin(currentTarget.value)}>
        <option value="" disabled>choose the last part</option>
        {#each ends as { id, name } (id)}<option value={id}>{name}</option>{/each}
      </select>
    </label>
  {/if}
</Section>
