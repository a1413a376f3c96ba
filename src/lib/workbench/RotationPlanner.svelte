<script lang="ts">
  import {
    GOOD_TURNS,
    clockingsOf,
    jointName,
    planRotation,
    rotationSetting,
    type RotationWay
  } from '@lodestone/core/joint';
  import { nameOf } from '@lodestone/core/train';
  import { verdictInWords, type Verdict } from '@lodestone/core/why';
  import { withinTolerance } from '@lodestone/core/length';
  import { partLength } from '@lodestone/core/drawer';
  import { useDrawer } from '$lib/parts/drawer.svelte.ts';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { parseNumber } from '$lib/ui/parse.ts';

  interface Props {
    /** Element to turn. */
    id: string;
    /** Turn that is wanted, degrees anticlockwise; typed where left out. */
    wantedDeg?: number;
    /** A way was carried out. */
    onturned?: () => void;
  }
  const { id, wantedDeg, onturned }: Props = $props();
  const train = useTrain();
  const drawer = useDrawer();
  const display = useDisplay();
  const notices = useNotices();

  let text = $derived(wantedDeg === undefined ? '' : Math.abs(wantedDeg).toFixed(1));
  let sense = $derived<1 | -1>((wantedDeg ?? 0) < 0 ? -1 : 1);
  let onlyOwned = $state(true);

  const clocking = $derived(clockingsOf(train.document, train.assessment.ledger.joints).get(id));
  const parsed = $derived(parseNumber(text.replace('°', '')));
  const asked = $derived(parsed.ok ? parsed.parsed : undefined);

  const SHIMS_OF_A_KIND = 3;
  const atHand = $derived(
    drawer.plain.flatMap((part) =>
      part.element.kind === 'shim' && part.owned && part.state !== 'set-aside'
        ? Array<number>(Math.min(part.quantity, SHIMS_OF_A_KIND)).fill(partLength(part))
        : []
    )
  );
  const ways = $derived(
    asked === undefined || asked === 0
      ? []
      : planRotation(train.document, id, sense * asked, onlyOwned ? [...new Set(atHand)] : undefined)
  );

  const jointOf = (at: string) => train.assessment.ledger.joints.find(({ cameraId }) => cameraId === at);
  const where = (at: string): string => {
    const joint = jointOf(at);
    return joint ? jointName(train.document, joint) : nameOf(train.document, at);
  };

  function sentence({ by, at, deg, lengthMm, shimsMm }: RotationWay): string {
    switch (by) {
      case 'rotator':
        return `Turn ${nameOf(train.document, at)}`;
      case 'bolts':
        return `Bolt ${where(at)} ${deg.toFixed(0)}° further on`;
      case 'slip':
        return `Turn the slip fit ${where(at)}`;
      case 'clamp':
        return `Loosen the clamp ${where(at)} and turn`;
      case 'union':
        return `Loosen the union nut ${where(at)} and turn`;
      case 'lock-ring':
        return `Loosen the lock ring ${where(at)} and turn`;
      case 'whole-train':
        return `Turn the whole train in ${train.document.host.name}`;
      case 'shim':
        return shimsMm.length === 0
          ? `Remove the shims from ${where(at)}`
          : `Shims of ${shimsMm.map((mm) => display.length(mm, display.unit === 'mm' ? 3 : 5)).join(' + ')} in ${where(at)}${
              lengthMm < 0 ? ' instead of those there' : ''
            }`;
    }
  }

  /** What it costs: length, and with it the verdict. */
  function consequence({ lengthMm, turns, missDeg }: RotationWay): string {
    const { residualMm, required } = train.assessment.report;
    const parts = [];
    if (Math.abs(missDeg) >= 0.5) parts.push(`misses by ${Math.abs(missDeg).toFixed(0)}°`);
    if (Math.abs(lengthMm) > 5e-5 && residualMm !== null && required.toleranceMm !== null) {
      const after = residualMm + lengthMm;
      const verdict: Verdict = withinTolerance(after, required.toleranceMm) ? 'on-spec' : after < 0 ? 'short' : 'long';
      parts.push(
        `${lengthMm > 0 ? 'adds' : 'takes off'} ${display.length(Math.abs(lengthMm), display.unit === 'mm' ? 3 : 5)}: ${verdictInWords(verdict, after, display.unit)}`
      );
    } else parts.push('no length');
    if (turns !== undefined && turns < GOOD_TURNS) parts.push(`only ${turns.toFixed(1)} turns of thread hold`);
    return parts.join(', ');
  }

  function carryOut(way: RotationWay) {
    const setting = rotationSetting(train.document, way);
    if (!setting) return;
    const refusal = train.dispatch({ op: 'set', ...setting }, `Turn by ${asked}°`);
    if (refusal) return notices.complain(refusal);
    text = '';
    onturned?.();
  }
</script>

<p class="text-muted text-xs">
  {#if clocking}
    Angle {clocking.deg.toFixed(0)}° against the host’s mark{clocking.assumed
      ? ', counted as if every thread started at its mark: not all of them have been tried'
      : ''}.
  {/if}
</p>
<div class="grid grid-cols-[5.5rem_minmax(0,1fr)] gap-2">
  <label class="input input-sm">
    <input
      class="min-w-0 text-right"
      inputmode="decimal"
      autocomplete="off"
      aria-label="Turn by, degrees"
      bind:value={text}
      placeholder="35"
    />
    <span class="text-muted">°</span>
  </label>
  <select class="select select-sm w-full" aria-label="Sense of rotation" bind:value={sense}>
    <option value={1}>anticlockwise</option>
    <option value={-1}>clockwise</option>
  </select>
</div>
<p class="text-muted text-xs">seen from the camera</p>
{#if !parsed.ok}<p class="text-error text-xs" role="alert">{parsed.message}</p>{/if}
{#if asked}
  <ul class="grid gap-1">
    {#each ways as way, index (index)}
      <li class="border-line flex items-start justify-between gap-2 border-t py-1">
        <span class="min-w-0">
          {sentence(way)}
          <span class="text-muted block text-xs">{consequence(way)}</span>
        </span>
        {#if way.by !== 'whole-train'}
          <button class="btn btn-outline btn-xs" onclick={() => carryOut(way)}>Do it</button>
        {/if}
      </li>
    {/each}
  </ul>
  <label class="flex items-center gap-2 text-xs">
    <input type="checkbox" class="checkbox checkbox-xs" bind:checked={onlyOwned} />only with shims of the drawer
  </label>
{/if}
