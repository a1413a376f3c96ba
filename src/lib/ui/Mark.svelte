<svg viewBox="0 0 20 24" width="16" height="19" aria-hidden="true" class="text-primary shrink-0">
  <path d="M10 1 L18.5 12 L10 23 L1.5 12 Z" fill="none" stroke="currentColor" stroke-width="1.8" />
  <path d="M10 1.6 L14 12 H6 Z" fill="currentColor" />
</svg>
