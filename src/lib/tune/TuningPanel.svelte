<script lang="ts">
  /** Spacings that were tried: what they say together, the next one, and how another is written down. */
  import { dayOf } from '$lib/ui/time.ts';
  import TryAgain from '$lib/ui/TryAgain.svelte';
  import { findElement, nameOf, partIdOf, sameJson, type TriedSpacing } from '@lodestone/core/train';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';
  import { useTrain } from '$lib/train/context.ts';
  import Check from '@lucide/svelte/icons/check';
  import PackageSearch from '@lucide/svelte/icons/package-search';
  import Plus from '@lucide/svelte/icons/plus';
  import Printer from '@lucide/svelte/icons/printer';
  import Trash2 from '@lucide/svelte/icons/trash-2';
  import { stretchWords } from '@lodestone/core/frame';
  import { EYE_WORDS, scatterInWords } from './say.ts';
  import SeveralFrames from './SeveralFrames.svelte';
  import CornerStars from './CornerStars.svelte';
  import type { TestFrame } from '$lib/frames/frames.svelte.ts';
  import type { Tuning } from './tuning.svelte.ts';

  interface Props {
    tuning: Tuning;
    frame: TestFrame | undefined;
  }
  const { tuning, frame }: Props = $props();
  const display = useDisplay();
  const train = useTrain();
  const notices = useNotices();
  const uid = $props.id();

  const { experiments, answer, spacingMm, tunedMm, schools, trying, found } = $derived(tuning);
  type Eye = NonNullable<TriedSpacing['eye']>;
  let stretch = $state<Eye['stretch']>('outward');
  let strength = $state(1);
  let versus = $state<NonNullable<Eye['versusLast']> | 'past' | ''>('');
  const isAsked = $derived(stretch !== 'round');
  /** Spacing of a try that was not made with the train as it stands: with another, or before there was Lodestone. */
  let atText = $state('');
  const at = $derived(parseNumber(atText, display.unit));
  const canAdd = $derived(at.ok && (spacingMm !== undefined || at.parsed !== undefined));
  /** Keeps something at the typed spacing, if one is typed. */
  function keep(add: (atMm: number | undefined) => string | undefined) {
    if (!at.ok) return notices.complain(at.message);
    const refusal = add(at.parsed);
    notices.complain(refusal);
    if (refusal === undefined) atText = '';
  }

  function addEye(event: SubmitEvent) {
    event.preventDefault();
    const compared: Pick<Eye, 'versusLast' | 'past'> =
      versus === '' || experiments.length === 0
        ? {}
        : versus === 'past'
          ? { versusLast: 'better', past: true }
          : { versusLast: versus };
    keep((atMm) => tuning.addEye({ stretch, ...(isAsked ? { strength } : {}), ...compared }, atMm));
    versus = '';
  }
  /** What the last entry shows, in a word. */
  const lastWords = $derived.by(() => {
    const { radial, eye } = experiments.at(-1) ?? {};
    return radial ? stretchWords(radial.value) : eye ? EYE_WORDS[eye.stretch] : 'this';
  });
  const isKept = $derived(answer.bestMm !== null && tunedMm !== undefined && Math.abs(answer.bestMm - tunedMm) < 0.05);
  /** How far the next try is from the train as it stands. */
  const step = $derived(answer.nextMm === null || spacingMm === undefined ? undefined : answer.nextMm - spacingMm);
  const solved = $derived(tuning.bySolved(frame));
  /** What is done to the train, in words. */
  const foundWords = $derived.by(() => {
    if (!found) return '';
    const { change, from, train: to } = found;
    const list = (ids: readonly { id: string }[], of: typeof from) =>
      ids
        .map(({ id }) => {
          const element = findElement(of, id);
          return (element && partIdOf(element)) ?? nameOf(of, id);
        })
        .join(', ');
    const steps = [
      ...(change.bring.length > 0 ? [`${list(change.bring, to)} in`] : []),
      ...(change.aside.length > 0 ? [`${list(change.aside, from)} out`] : [])
    ];
    const joints =
      change.joints === 0 ? 'no joint to open' : `${change.joints} ${change.joints === 1 ? 'joint' : 'joints'} to open`;
    return `${steps.length > 0 ? `${steps.join('; ')}: ` : ''}${display.length(found.spacingMm, 2)}, ${joints}.`;
  });
  // What was found was found for the train as it stood; what was put on the rail may be taken off again.
  $effect(() => {
    const { elements } = train.document;
    if (found && !sameJson(elements, (trying === 'placed' ? found.train : found.from).elements)) tuning.letGo();
  });
  const lookFor = (mm: number) => void tuning.lookFor(mm);
  function put() {
    const refusal = tuning.putOnRail();
    if (refusal !== undefined) return notices.complain(refusal);
    notices.sayDone(train, 'The next try is on the rail.', () => tuning.letGo());
  }
  const seen = ({ radial, size, sweep, eye }: TriedSpacing): string => {
    const larger = Math.round(size?.cornerPct ?? 0);
    const swollen = larger === 0 ? '' : `, ${Math.abs(larger)} % ${larger > 0 ? 'larger' : 'smaller'}`;
    if (radial) {
      const way = stretchWords(radial.value);
      return `${Math.abs(radial.value).toFixed(3)} ±${(2 * radial.standard).toFixed(3)} ${way}${swollen}`;
    }
    if (sweep) return `a sweep: ${sweep.astigmatismUm.toFixed(0)} ±${(2 * sweep.standardUm).toFixed(0)} µm`;
    const how = eye?.strength ? ['', 'a little', 'clearly', 'strongly'][eye.strength] : undefined;
    const compared = eye?.past
      ? 'better, but past it'
      : eye?.versusLast && { better: 'better', worse: 'worse', same: 'the same' }[eye.versusLast];
    const what = !eye || eye.stretch === 'unknown' ? (how ? 'bad' : 'unclear') : EYE_WORDS[eye.stretch];
    return ['by eye: ' + what, how, compared].filter(Boolean).join(', ');
  };
</script>

{#snippet look(mm: number, title: string)}
  <button class="btn btn-outline btn-sm" data-look-for={mm.toFixed(2)} onclick={() => lookFor(mm)}
    ><PackageSearch size={15} />{title}</button
  >
{/snippet}
{#if schools}
  <div class="mt-1 text-sm" data-schools>
    <p>
      What {lastWords}
      means is taught both ways; neither is known to hold here. Begin with one of them:
    </p>
    <div class="mt-1 flex flex-wrap gap-2">
      {#each schools as { outwardMeans, nextMm } (outwardMeans)}
        {@render look(nextMm, `${display.length(nextMm, 2)} (radial: ${outwardMeans})`)}
      {/each}
    </div>
  </div>
{:else if answer.nextMm !== null}
  <p class="mt-1" data-next-try>
    Try <strong>{display.length(answer.nextMm, 2)}</strong> next{step === undefined
      ? '.'
      : Math.abs(step) < 0.005
        ? ': the train is there already.'
        : `: ${display.length(Math.abs(step), 2)} ${step > 0 ? 'more' : 'less'} than it has now.`}
  </p>
  {#if step !== undefined && Math.abs(step) >= 0.05}
    <div class="mt-1">{@render look(answer.nextMm, 'What the drawer has for it')}</div>
  {/if}
{/if}
{#if trying === 'looking'}
  <p class="text-muted mt-1 flex items-center gap-2 text-sm" role="status">
    Looking through the drawer … <button class="btn btn-ghost btn-xs" onclick={() => tuning.letGo()}>Cancel</button>
  </p>
{:else if trying === 'failed'}
  <TryAgain message={tuning.tryFailure} onagain={() => void tuning.lookAgain()} />
{:else if trying === 'none' || trying === 'there' || trying === 'unread'}
  <p class="mt-1 text-sm" data-no-try>
    {{
      there: 'The train is there already: take a frame.',
      none: 'The drawer has no rings that come near it without opening the train’s ends.',
      unread: 'The drawer was not read yet: try again once it is there.'
    }[trying]}
  </p>
{:else if found}
  <div class="bg-base-300/40 mt-1 rounded p-2 text-sm" data-found-try={found.spacingMm.toFixed(2)}>
    <p>{trying === 'placed' ? 'On the rail: ' : ''}{foundWords}</p>
    <div class="mt-1 flex flex-wrap gap-2">
      {#if trying === 'found'}
        <button class="btn btn-primary btn-sm" data-put-on-rail onclick={put}
          ><Check size={15} />Put it on the rail</button
        >
      {/if}
      <button class="btn btn-outline btn-sm" onclick={() => print()}><Printer size={15} />Print the change-over</button>
      <button class="btn btn-ghost btn-sm" onclick={() => tuning.letGo()}
        >{trying === 'placed' ? 'Done' : 'Leave it'}</button
      >
    </div>
  </div>
{/if}
{#if answer.bestMm !== null && !isKept}
  <button class="btn btn-primary btn-sm mt-1 self-start" onclick={() => notices.complain(tuning.accept())}
    ><Check size={15} />Keep {display.length(answer.bestMm, 2)} as the tuned back focus</button
  >
{/if}
{#if tuning.misread}
  <p class="text-warning mt-1 text-sm" data-misread>{tuning.misread.say(display.unit)}</p>
{/if}
{#if typeof solved === 'string'}
  <p class="text-muted mt-1 text-sm" data-solved>{solved}</p>
{:else if solved}
  <p class="mt-1 text-sm" data-solved>
    This frame was solved: {solved.focalLengthMm.toFixed(0)} mm of focal length, {solved.magnification.toFixed(3)}×. By
    the thin lens the sensor is {display.length(Math.abs(solved.offMm), 1)}
    {solved.offMm < 0 ? 'nearer' : 'farther'} than calculated for the train.
  </p>
{/if}
<div class="border-line mt-2 border-t pt-2">
  <p class="text-muted text-sm">
    {spacingMm === undefined
      ? 'The spacing of this train is not known while places are open or its corrector has no back focus. Earlier tries can be typed with theirs.'
      : `Now at ${display.length(spacingMm, 2)}. Enter what the corners show.`}
  </p>
  <label class="mt-1 flex items-center gap-2 text-sm">
    Seen at
    <input
      class="input input-sm w-24 text-right"
      inputmode="decimal"
      data-seen-at
      placeholder={spacingMm === undefined ? '' : display.number(spacingMm, 2)}
      aria-invalid={!at.ok}
      bind:value={atText}
    />
    {display.unit}{#if !at.ok}<span class="text-error" role="alert">{at.message}</span>{/if}
  </label>
  {#if frame?.summary?.field.radial}
    <button
      class="btn btn-outline btn-sm mt-1"
      title="E"
      data-keep-frame
      disabled={!canAdd}
      onclick={() => keep((atMm) => tuning.addFrames([frame], atMm))}><Plus size={15} />Keep this frame</button
    >
  {/if}
  <SeveralFrames {tuning} disabled={!canAdd} onkeep={(several) => keep((atMm) => tuning.addFrames(several, atMm))} />
  <form class="mt-1 flex flex-wrap items-center gap-1" onsubmit={addEye} aria-label="What the eye sees">
    <label class="sr-only" for="{uid}-stretch">By eye</label>
    <select id="{uid}-stretch" class="select select-sm w-28" bind:value={stretch}>
      <option value="outward">radial</option>
      <option value="circling">tangential</option>
      <option value="round">round</option>
      <option value="unknown">unclear</option>
    </select>
    {#if isAsked}
      <select class="select select-sm w-24" aria-label="How strongly" bind:value={strength}>
        <option value={1}>a little</option>
        <option value={2}>clearly</option>
        <option value={3}>strongly</option>
      </select>
    {/if}
    {#if experiments.length > 0}
      <select class="select select-sm w-24" aria-label="Against the last one" bind:value={versus}>
        <option value="">–</option>
        <option value="better">better</option>
        <option value="worse">worse</option>
        <option value="same">the same</option>
        <option value="past">better, but past it</option>
      </select>
    {/if}
    <button class="btn btn-outline btn-sm" data-add-eye disabled={!canAdd}>Add</button>
  </form>
</div>
{#if tuning.scatter}<p class="text-muted mt-2 text-sm" data-scatter>{scatterInWords(tuning.scatter)}</p>{/if}
<ul class="mt-2" aria-label="Experiments">
  {#each experiments as experiment, index (index)}
    <li class="border-line flex items-center gap-2 border-t py-1 text-sm">
      <span class="w-16 shrink-0 text-right font-semibold">{display.number(experiment.spacingMm, 2)}</span>
      <span class={['min-w-0 flex-1', answer.outliers.includes(index) && 'text-muted']} title={experiment.note}
        >{seen(experiment)}{answer.outliers.includes(index) ? ', excluded' : ''}<span
          class="text-muted block truncate text-xs"
          >{[experiment.on && dayOf(experiment.on), experiment.frame].filter(Boolean).join(', ')}</span
        ></span
      >
      {#if experiment.corners}<CornerStars corners={experiment.corners} />{/if}
      <button
        class="btn btn-ghost btn-xs btn-square"
        aria-label="Remove experiment {index + 1}"
        onclick={() => notices.complain(tuning.remove(index))}><Trash2 size={13} /></button
      >
    </li>
  {/each}
</ul>
