<script lang="ts">
  import { HOST, TRAIN, isSeated, nameOf, type SagTest } from '@lodestone/core/train';
  import { balanceOf, stiffnessOf } from '@lodestone/core/load';
  import { saggingsOf } from '@lodestone/core/check';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberIn, numberText, parseNumber } from '$lib/ui/parse.ts';
  import { dayOf, today } from '$lib/ui/time.ts';
  import Why from '$lib/ui/Why.svelte';
  import CameraToCome from './CameraToCome.svelte';
  import HungWeights from './HungWeights.svelte';
  import Trash2 from '@lucide/svelte/icons/trash-2';

  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();
  const uid = $props.id();

  const { facts } = $derived(train.assessment);
  const { load } = $derived(facts);
  const balance = $derived(balanceOf(train.shown.host, load));
  const mount = $derived(train.shown.host.mount);
  const saggings = $derived(saggingsOf(facts));
  const log = $derived((train.document.sag ?? []) as readonly SagTest[]);
  const digits = $derived(display.unit === 'mm' ? 0 : 2);

  const joints = $derived([
    [HOST, `camera face of ${train.document.host.name}`] as const,
    ...train.document.elements.filter(isSeated).map(({ id, name }) => [id, `before ${name}`] as const)
  ]);
  let at = $state<string>(HOST);
  let massText = $state('300');
  let atText = $state('');
  let gaugeText = $state('');
  let resolutionText = $state('');
  let readingsText = $state('');
  let message = $state<string>();

  /** Numbers of a line of readings; undefined where one is none. */
  function numbersOf(line: string): number[] | undefined {
    const words = line.split(/[;\s]+/).filter(Boolean);
    const numbers = words.map((word) => parseNumber(word, display.unit));
    return numbers.every((each) => each.ok && each.parsed !== undefined)
      ? numbers.map((each) => (each.ok ? each.parsed! : 0))
      : undefined;
  }

  function keep(event: SubmitEvent) {
    event.preventDefault();
    const massG = numberIn(massText);
    const [atMm, gaugeAtMm, resolutionMm] = [atText, gaugeText, resolutionText].map((text) =>
      numberIn(text, display.unit)
    );
    if (massG === undefined || atMm === undefined || gaugeAtMm === undefined || resolutionMm === undefined) {
      message = 'Mass, both distances and the resolution of the gauge are needed.';
      return;
    }
    const series = readingsText
      .split('\n')
      .filter((line) => line.trim() !== '')
      .map((line) => ({ readMm: numbersOf(line) }));
    if (series.length === 0 || series.some(({ readMm }) => readMm === undefined)) {
      message = 'Readings are numbers with spaces between, a line for each orientation.';
      return;
    }
    const test = { at, on: today(), massG, atMm, gaugeAtMm, resolutionMm, series } as unknown as SagTest;
    if (!stiffnessOf(test)) {
      message = 'A line needs at least three readings: without the mass, with it, and without again.';
      return;
    }
    message = train.dispatch({ op: 'set', at: TRAIN, path: ['sag'], to: [...log, test] }, 'Keep a sag test');
    if (message === undefined) readingsText = '';
  }
  function drop(index: number) {
    const left = log.toSpliced(index, 1);
    notices.complain(
      train.dispatch(
        { op: 'set', at: TRAIN, path: ['sag'], to: left.length === 0 ? undefined : left },
        'Remove a sag test'
      )
    );
  }
</script>

<h2 class="text-base font-semibold">Load</h2>
<table class="w-full text-xs">
  <tbody>
    <tr class="border-line border-t"
      ><td class="py-1">hangs on the telescope</td><td class="text-right"
        ><Why subject="load.mass">{load.massG.toFixed(0)} g</Why>{load.unweighed.length > 0
          ? `, ${load.unweighed.length} not weighed`
          : ''}</td
      ></tr
    >
    {#if load.centreOfMassMm !== undefined}
      <tr class="border-line border-t"
        ><td class="py-1">centre of mass behind its face</td><td class="text-right"
          >{display.length(load.centreOfMassMm, digits)}</td
        ></tr
      >
    {/if}
    <tr class="border-line border-t"
      ><td class="py-1">moment about the face, axis level</td><td class="text-right"
        ><Why subject="load.moment">{load.momentNm.toFixed(2)} N·m</Why></td
      ></tr
    >
  </tbody>
</table>

<h3 class="mt-3 font-semibold">Balance</h3>
{#if balance && mount}
  <p data-balance>
    {Math.abs(balance.slideMm) < 0.5
      ? 'In balance about the declination axis.'
      : `Slide the tube ${display.length(Math.abs(balance.slideMm), digits)} toward the ${balance.slideMm > 0 ? 'sky' : 'camera'}${balance.canSlide === false ? ', more than its saddle allows' : ''}.`}
    {balance.counterweightMm === null
      ? ''
      : `The counterweight goes ${display.length(balance.counterweightMm, digits)} from the polar axis.`}
  </p>
  <HungWeights {balance} {mount} />
  <p class="text-muted text-xs">
    Lock the axes before anything is put on or taken off: a tube that is heavy at one end swings.
  </p>
{:else}
  <p class="text-muted text-xs">
    Describe how the tube sits on its mount, under <button
      class="link-quiet"
      onclick={() => train.select({ kind: 'host' })}>{train.document.host.name}</button
    >, part.
  </p>
{/if}

<h3 class="mt-3 font-semibold">Sag</h3>
{#each saggings as { test, sagging } (test.at)}
  <p class="text-xs">
    {joints.find(([id]) => id === test.at)?.[1] ?? test.at}: {sagging.stiffness.isBound
      ? 'at least '
      : ''}{sagging.stiffness.stiffnessNmPerRad.toFixed(0)} N·m per radian, {sagging.stiffness.isBound
      ? 'at most '
      : ''}{sagging.acrossArcmin.toFixed(2)}′ across the meridian{sagging.stiffness.hysteresisMm > test.resolutionMm
      ? `, and ${display.length(sagging.stiffness.hysteresisMm, 3)} does not come back`
      : ''}.
  </p>
{:else}
  <p class="text-muted text-xs">No joint was tested with a gauge yet.</p>
{/each}
{#if log.length > 0}
  <ul class="mt-1 text-xs" aria-label="Sag tests">
    {#each log as test, index (index)}
      <li class="border-line flex items-center justify-between gap-2 border-t">
        <span
          >{test.on ? dayOf(test.on) : ''}
          {joints.find(([id]) => id === test.at)?.[1] ?? nameOf(train.document, test.at)}, {test.massG} g at {display.length(
            test.atMm,
            digits
          )}</span
        >
        <button class="btn btn-ghost btn-xs btn-square" aria-label="Remove test {index + 1}" onclick={() => drop(index)}
          ><Trash2 size={12} /></button
        >
      </li>
    {/each}
  </ul>
{/if}
<details class="mt-2">
  <summary class="cursor-pointer text-sm">Write a test down</summary>
  <form class="mt-2 grid grid-cols-2 gap-2 text-xs" onsubmit={keep}>
    <label class="col-span-full grid gap-0.5"
      >Joint
      <select class="select select-sm w-full" bind:value={at}>
        {#each joints as [id, words] (id)}<option value={id}>{words}</option>{/each}
      </select></label
    >
    <CameraToCome
      {at}
      onhang={({ massG, atMm }) => {
        massText = String(Number(massG.toFixed(1)));
        atText = numberText(atMm, display.unit);
      }}
    />
    <label class="grid gap-0.5"
      >Mass hung on, g <input class="input input-sm w-full" inputmode="decimal" bind:value={massText} /></label
    >
    <label class="grid gap-0.5"
      >hung from the joint, {display.unit}
      <input
        class="input input-sm w-full"
        inputmode="decimal"
        placeholder={numberText(60, display.unit)}
        bind:value={atText}
      /></label
    >
    <label class="grid gap-0.5"
      >gauge from the joint, {display.unit}
      <input
        class="input input-sm w-full"
        inputmode="decimal"
        placeholder={numberText(60, display.unit)}
        bind:value={gaugeText}
      /></label
    >
    <label class="grid gap-0.5"
      >resolution of the gauge, {display.unit}
      <input
        class="input input-sm w-full"
        inputmode="decimal"
        placeholder={numberText(0.01, display.unit)}
        bind:value={resolutionText}
      /></label
    >
    <label class="col-span-full grid gap-0.5" for="{uid}-readings"
      >Readings: without the mass, with it, without, with, … A line for each orientation, best three of each.
      <textarea
        id="{uid}-readings"
        class="textarea w-full font-mono"
        rows="3"
        placeholder="0.00 0.02 0.00 0.02 0.00"
        bind:value={readingsText}></textarea></label
    >
    {#if message !== undefined}<p class="text-error col-span-full" role="alert">{message}</p>{/if}
    <button class="btn btn-outline btn-sm justify-self-start">Keep the test</button>
  </form>
</details>
