<script lang="ts">
  import { counterweightAt, counterweightFor, counterweightMass, placeFor, type Balance } from '@lodestone/core/load';
  import { HOST, type Attached, type Host } from '@lodestone/core/train';
  import { useTrain } from '$lib/train/context.ts';
  import { useDisplay } from '$lib/ui/display.svelte.ts';
  import { useNotices } from '$lib/ui/notices.svelte.ts';
  import { numberIn } from '$lib/ui/parse.ts';

  /** Weights that balance the tube where it stands: the place for the one there is, or the weight for the place there is. */
  interface Props {
    balance: Balance;
    mount: NonNullable<Host['mount']>;
  }
  const { balance, mount }: Props = $props();
  const train = useTrain();
  const display = useDisplay();
  const notices = useNotices();

  /** Balanced nearer than this, no weight is hung, mm (common practice, no source). */
  const NEAR_MM = 3;
  const digits = $derived(display.unit === 'mm' ? 0 : 2);

  let massText = $state('');
  let placeText = $state('');
  let barText = $state('');
  const massG = $derived(numberIn(massText));
  const placeMm = $derived(numberIn(placeText, display.unit));
  const barMm = $derived(numberIn(barText, display.unit));
  const place = $derived(massG === undefined ? undefined : placeFor(balance, mount.saddleAheadMm, massG));
  const mass = $derived(placeMm === undefined ? undefined : counterweightFor(balance, mount.saddleAheadMm, placeMm));
  const onBar = $derived(barMm === undefined ? undefined : counterweightMass(mount, balance.massG, barMm));
  /** A weight and a place that balance it: those that were typed, or the other of the two. */
  const hung = $derived<Omit<Attached, 'name'> | undefined>(
    massG !== undefined && massG > 0 && place !== undefined
      ? { massG, alongMm: place }
      : placeMm !== undefined && mass !== undefined && mass >= 1
        ? { massG: mass, alongMm: placeMm }
        : undefined
  );
  const after = $derived(hung && counterweightAt(mount, balance.massG + hung.massG));

  function hang() {
    if (!hung) return;
    const weight: Attached = {
      name: 'Balance weight',
      massG: Number(hung.massG.toFixed(1)),
      alongMm: Number(hung.alongMm.toFixed(1))
    };
    const { attached = [] } = train.document.host;
    const refusal = train.dispatch(
      { op: 'set', at: HOST, path: ['attached'], to: [...attached, weight] },
      'Hang a weight'
    );
    if (refusal !== undefined) return notices.complain(refusal);
    [massText, placeText] = ['', ''];
    notices.sayDone(train, 'The weight hangs on the telescope.');
  }
</script>

{#if Math.abs(balance.slideMm) >= NEAR_MM}
  <div class="mt-2 grid gap-1 text-xs" data-weights>
    <p class="text-muted">Or hang a weight: type the one you own, or the place you have.</p>
    <label class="flex flex-wrap items-center gap-1">
      <input
        class="input input-xs w-20 text-right"
        inputmode="decimal"
        aria-label="Weight you own, g"
        placeholder="500"
        bind:value={massText}
        oninput={() => (placeText = '')}
      />
      g{#if place !== undefined}<span data-weight-place
          >goes {display.length(Math.abs(place), digits)} {place >= 0 ? 'ahead of' : 'behind'} the camera face.</span
        >{/if}
    </label>
    <label class="flex flex-wrap items-center gap-1">
      <input
        class="input input-xs w-20 text-right"
        inputmode="decimal"
        aria-label="Place you have, ahead of the camera face"
        placeholder={display.number(2 * mount.tubeAheadMm, digits)}
        bind:value={placeText}
        oninput={() => (massText = '')}
      />
      {display.unit} ahead of the camera face{#if placeMm !== undefined}<span data-place-weight
          >{mass === undefined ? 'is on the heavy side: no weight helps there.' : `takes ${mass.toFixed(0)} g.`}</span
        >{/if}
    </label>
    {#if hung}
      <p>
        <button class="btn btn-outline btn-xs" data-hang onclick={hang}>Hang it</button>
        {after === undefined
          ? ''
          : ` The counterweight then goes ${display.length(after, digits)} from the polar axis.`}
      </p>
    {/if}
  </div>
{/if}
{#if mount.aboveAxisMm !== undefined}
  <label class="mt-1 flex flex-wrap items-center gap-1 text-xs">
    A counterweight at
    <input
      class="input input-xs w-20 text-right"
      inputmode="decimal"
      aria-label="Place on the counterweight bar"
      placeholder={display.number(200, digits)}
      bind:value={barText}
    />
    {display.unit} from the polar axis{onBar === undefined ? '.' : ` has to weigh ${(onBar / 1000).toFixed(2)} kg.`}
  </label>
{/if}
