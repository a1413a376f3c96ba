<script lang="ts">
  import MoonStar from '@lucide/svelte/icons/moon-star';
  import Ruler from '@lucide/svelte/icons/ruler';
  import Sun from '@lucide/svelte/icons/sun';
  import SunDim from '@lucide/svelte/icons/sun-dim';
  import { useDisplay } from './display.svelte.ts';

  const display = useDisplay();
  const icons = { daylight: Sun, dusk: SunDim, night: MoonStar };
  const Icon = $derived(icons[display.theme]);
</script>

<button
  class="btn btn-ghost btn-sm px-2"
  title="Theme: {display.theme} (T)"
  aria-label="Theme: {display.theme}. Change it."
  onclick={() => display.nextTheme()}
>
  <Icon size={16} />
</button>
<button
  class="btn btn-ghost btn-sm px-2 font-normal"
  title="Unit of length: {display.unit} (U)"
  aria-label="Lengths in {display.unit}. Change it."
  onclick={() => display.toggleUnit()}
>
  <Ruler size={16} />{display.unit}
</button>
