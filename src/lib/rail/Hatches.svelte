<!-- The hatching of cut metal, once a page: every drawing of a part refers to it. -->
<svg width="0" height="0" class="absolute" aria-hidden="true">
  <defs>
    <pattern id="cut-hatch" width="6" height="6" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
      <rect width="6" height="6" class="ground" />
      <path d="M0 0 V6" class="line" />
    </pattern>
    <pattern id="cut-hatch-fine" width="3.5" height="3.5" patternUnits="userSpaceOnUse" patternTransform="rotate(-45)">
      <rect width="4" height="4" class="ground" />
      <path d="M0 0 V4" class="line" />
    </pattern>
  </defs>
</svg>

<style>
  .ground {
    fill: var(--metal-cut);
  }
  .line {
    stroke: var(--metal-hatch);
    stroke-width: 1.4;
  }
</style>
