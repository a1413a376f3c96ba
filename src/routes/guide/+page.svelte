<script lang="ts">
  import { useCommands } from '$lib/ui/commands.svelte.ts';
  import TopBar from '$lib/ui/TopBar.svelte';
  import { GLOSSARY } from '$lib/ui/glossary.ts';
  import Search from '@lucide/svelte/icons/search';
  import { tick } from 'svelte';
  import { page } from '$app/state';
  import buildPicture from '../../../docs/screenshots/build.png';
  import checkPicture from '../../../docs/screenshots/check.png';
  import whyPicture from '../../../docs/screenshots/why.png';
  import finderPicture from '../../../docs/screenshots/finder.png';
  import drawerPicture from '../../../docs/screenshots/drawer.png';
  import measurePicture from '../../../docs/screenshots/measure.png';

  const commands = useCommands();

  const WORDS = Object.entries(GLOSSARY).sort(([, a], [, b]) => a.term.localeCompare(b.term));

  // A field has sent somebody here for its word.
  $effect(() => {
    const { hash } = page.url;
    if (hash) void tick().then(() => document.getElementById(decodeURIComponent(hash.slice(1)))?.scrollIntoView());
  });

  let query = $state('');
  let found = $state(0);
  let search: HTMLInputElement;
  let sections: HTMLElement;

  commands.register([
    { id: 'search-guide', group: 'Guide', title: 'Search the guide', key: '/', run: () => search.select() }
  ]);

  /** Sections that have every word stay. */
  $effect(() => {
    const words = query.toLowerCase().split(/\s+/).filter(Boolean);
    let count = 0;
    for (const section of sections.querySelectorAll('section')) {
      const text = (section.textContent ?? '').toLowerCase();
      const has = words.every((word) => text.includes(word));
      section.hidden = !has;
      if (has) count++;
    }
    found = count;
  });
</script>

{#snippet picture(src: string, words: string)}
  <figure class="picture"><img {src} alt={words} width="1280" height="800" loading="lazy" /></figure>
{/snippet}

<svelte:head><title>Guide · Lodestone</title></svelte:head>
<TopBar />
<main class="mx-auto max-w-3xl px-6 py-8">
  <h1 class="text-2xl font-semibold">Guide</h1>
  <p class="mt-2">
    A corrector draws sharp corners only when the sensor stands at the distance it asks for, its <em>back focus</em>.
    Lodestone adds up everything between the two, compares, and says what to do.
  </p>

  <label class="input mt-6 w-full max-w-sm">
    <Search size={15} class="text-muted shrink-0" />
    <input
      type="search"
      bind:this={search}
      bind:value={query}
      placeholder="tolerance, zero check, CSV"
      aria-label="Search the guide"
      autocomplete="off"
    />
    <kbd class="kbd kbd-xs">/</kbd>
  </label>
  <p class="text-muted mt-2 text-xs" role="status">
    {#if query.trim() !== ''}{found === 0
        ? `Nothing here speaks of “${query.trim()}”.`
        : `${found} of the sections`}{/if}
  </p>
  <div bind:this={sections}>
    <section class="mt-8">
      <h2 class="text-lg font-semibold">Reading the answer</h2>
      <p class="mt-1">
        The large words at the top are the <em>residual</em>: how much the train is too long or too short. Below stands
        the next step. Every dotted number can be asked why: rest the pointer on it, or move to it with Tab.
      </p>
      {@render picture(whyPicture, 'Build with the sum behind a number opened over it')}
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">The rail</h2>
      <p class="mt-1">
        The train is drawn in millimetres from the corrector’s shoulder, sky on the left. Above the axis it is cut open,
        below it is seen from outside. The solid line is where the sensor is, the dashed one where it should be; the
        band round it is the tolerance. When the two lie closer than the eye can judge, a magnified view opens. Along
        the axis the scale is larger than across it; <kbd class="kbd kbd-sm">P</kbd> shows true proportions.
      </p>
      <p class="mt-2">
        Click a part or a joint to change it, or walk with <kbd class="kbd kbd-sm">←</kbd>
        <kbd class="kbd kbd-sm">→</kbd>. Drag a part to another joint, or move it with Alt and the arrow keys.
        <kbd class="kbd kbd-sm">A</kbd> adds a part where you stand; its faces are what the place needs, and marked as assumed
        until you say that they are so.
      </p>
      <p class="mt-2">
        On First light, Tune and Log something else is the picture: the rail is folded to a strip there.
        <kbd class="kbd kbd-sm">Shift</kbd> <kbd class="kbd kbd-sm">G</kbd> opens it, and folds it again.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">The staircase</h2>
      {@render picture(buildPicture, 'A train to scale on the rail, and under it each part as a step of the sum')}
      <p class="mt-1">
        Under the rail, on the same scale, each part is a step at its place in the sum. A filled step was measured, a
        dashed one is only published. Below lies what is asked for, with the share of the glass as its own piece.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">What counts</h2>
      <ul class="mt-1 list-disc space-y-1 pl-5">
        <li>Lengths are shoulder to shoulder; threads do not count. A camera’s is flange to sensor.</li>
        <li>A measured length counts instead of the published one.</li>
        <li>Glass behind the corrector moves focus back by about a third of its thickness.</li>
        <li>A thread longer than its hole, and shims, hold two shoulders apart; a recess brings them together.</li>
        <li>Nothing on the sky side of the corrector counts, nor the corrector’s own body; its dial does.</li>
        <li>
          Three planes are in use for back focus: the shoulder, the tip of the male thread, the last glass surface. Read
          the maker’s sheet, and tell Lodestone which.
        </li>
      </ul>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">The drawer</h2>
      {@render picture(drawerPicture, 'The drawer: every part with its faces, length, place and train')}
      <p class="mt-1">
        Everything you own stands in the <a class="link-quiet" href="/drawer">drawer</a>: what it screws to, how long it
        is said to be and what it really measures, where it lies, which train has it. Type
        <kbd class="kbd kbd-sm">/</kbd> and anything you know of a part: <em>m48 f 16.5</em>, <em>tin 2</em>,
        <em>in Heron</em>, <em>10–20</em>. <kbd class="kbd kbd-sm">N</kbd> takes new parts in one line:
        <em>M48×0.75 f–m 10, 7.5, 16.5 ×2</em> is four rings, <em>shims 0.1 ×3 0.3</em> four shims; the sky face stands
        first, and a pitch that is missing is asked for. <kbd class="kbd kbd-sm">M</kbd> measures what is shown, part by part:
        type what the caliper shows, or let one that sends keys or hangs on a serial cable do it. Close the jaws for a zero
        check first. Readings of one caliper share its error, so ten of them are not ten times as good; the margin says how
        good they are. A part that is measured changes every train being planned with it. A train that is marked as assembled
        holds its parts: no other can, and it stays as it was built.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Measuring</h2>
      {@render picture(measurePicture, 'A part is measured: its reading, its margin, what is next')}
      <p class="mt-1">
        A wild reading is asked about before it is kept, readings that contradict each other widen the margin, and the
        last one can be taken back with Ctrl Z. A simulated caliper is there to try it with: its readings carry its
        name, and are never mixed with yours.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Finding the stack</h2>
      {@render picture(finderPicture, 'The finder: stacks in a list, the chosen one dashed on the rail')}
      <p class="mt-1">
        <kbd class="kbd kbd-sm">F</kbd> fills every gap from the drawer so that the sensor lands where it should. Walk
        the list with the arrow keys: each stack stands on the rail, dashed, until
        <kbd class="kbd kbd-sm">Enter</kbd> puts it in. “Searched completely” means that no other stack within so many pieces
        is better. Drag the marker above a gap to limit it; pin a part that must be in, rule one out that must not. Where
        nothing fits, the list begins with what would help, tried before it is said: leave a nose out, exchange an adapter
        or a filter holder, have one ring made, with its drawing. When one or a few parts do, the verdict names them without
        being asked, with where they lie.
      </p>
      <p class="mt-2">
        “Together with other trains” fills two or three that share the drawer: so that all can stand assembled at once,
        or so that a change from one to the next moves the fewest parts. What already stands in them stays, and what
        they both need is told.
      </p>
      <p class="mt-2">
        At any joint, <kbd class="kbd kbd-sm">D</kbd> shows what of the drawer fits there. A joint that cannot close says
        which adapter is missing, and which of yours is one.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Checking light and guiding</h2>
      {@render picture(checkPicture, 'The Check stage: the beam on the rail, the face beside it, every check below')}
      <p class="mt-2">
        <strong>Check</strong> asks every question and answers each in a sentence: what is wrong first, what passes folded
        away. A heading leads to the place, a dotted figure says why, a button does what was tried and helps, with parts of
        your drawer where they fit. What is not known names the field that is missing.
      </p>
      <p class="mt-2">
        Over the rail lie three layers. <kbd class="kbd kbd-xs">B</kbd> shows the beam: the dashed cone to the middle of
        the sensor, the other one to the point you drag along it, red where an opening cuts it.
        <kbd class="kbd kbd-xs">V</kbd>
        shows the guider: where the guide sensor has to be, and where its tube lets it be.
        <kbd class="kbd kbd-xs">K</kbd>
        shows what everything weighs, and where it all acts on the host.
      </p>
      <p class="mt-2">
        The <strong>face</strong> is the train seen from the camera: the sensor at its true size with lines of equal light,
        the openings round it, the prism and its field. Compare another filter, another distance or no corrector with the
        slider on it. The light is reckoned from the openings that are stated, the exit pupil and the reduction at the spacing
        the train has; what is only guessed takes no light.
      </p>
      <p class="mt-2">
        <strong>Framing</strong> draws an object behind the sensor at its true size. Lay the long side or a diagonal along
        it, cover it with panels, and hand the turn it needs to the rotation planner. Objects and stars come from the open
        catalogue of d3-celestial (BSD-3); star counts from Bahcall &amp; Soneira.
      </p>
      <p class="mt-2">
        <strong>Slots</strong> draws the wheel with what stands where, says how far it is out of balance, and spreads the
        filters in the order you remember. A slot that is to stay empty is kept so.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Putting it together</h2>
      <p class="mt-2">
        <strong>Assemble</strong> goes through the train joint by joint, from the camera or from the telescope: what comes
        into hand, how the joint is closed, tools, and cautions where they apply. Type what the calipers read of the stack
        so far: it counts at once, and the verdict above follows. A reading that is far off is asked about first. What is
        done is kept with the train, without the network too, and on every device.
      </p>
      <p class="mt-2">
        A thread that cannot be measured later is asked for before its joint closes, and before the last joint it says
        which dial or which shims of the drawer land the sensor now. Screws, locks, marks and cautions of your own stand
        on the sheet once they are stated in a part’s or a joint’s fields; cables are drawn on the face. A joint that is
        changed afterwards is to be closed again, and only that.
      </p>
      <p class="mt-2">
        <strong>Finish</strong>, and a record is kept that no later change touches. The <strong>Log</strong> has the records
        with room for photos, compares any of them with trains, variants and earlier revisions on one rail, tells whether
        your flats still hold, packs what comes along, and says how to change over to another train with the fewest joints
        opened.
      </p>
      <p class="mt-2">
        <strong>First light</strong> says whether the draw tube reaches, which extension tube lands nearest the middle, and
        takes you to the focus one instruction at a time: type each frame’s half-flux radius, or try it with the focuser that
        ships. What you saw when it did not come to focus narrows where the telescope’s own focus lies.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">What the stars say</h2>
      <p class="mt-1">
        Drop test frames on any page of a train, or let the capture program bring them by itself: <strong>Tune</strong> copies
        the line for it. Every star is measured, and what is wrong is named with how sure that is: stretched corners (the
        spacing), one side worse (tilt), all stars alike (tracking), tails (collimation), hollow stars (focus), dark corners
        (the light). Which way the spacing is off no single frame tells: that depends on the corrector, and a second frame
        at another spacing decides it.
      </p>
      <p class="mt-2">
        On the star-shape map each zone of the field has a whisker along the mean stretch of its stars, drawn longer
        than it is; a dot says that chance alone would stretch it as much. Closer up each star has its own. Loupes show
        the pixels where you lay them; two frames are compared with a slider. A frame that does not tell says what to
        take instead. Frames stay on this machine; the simulated camera takes some with any fault you like.
      </p>
      <p class="mt-2">
        Keep what a frame says, or what your eye says, for the spacing the train has: under
        <strong>Experiments</strong> every entry is a point, and the spacing this unit really wants is where they cross from
        outward to circling, with how sure that is, how far off the corners still look round, and what to try next. Keep it,
        and it is the corrector’s tuned back focus from then on. For the next try the drawer is asked: the rings that give
        it with the fewest joints opened go onto the rail in one step, and the change-over can be printed.
      </p>
      <p class="mt-2">
        A <strong>Sweep</strong> is surer than stretched stars: frames at five or more positions of the focuser, on both sides
        of focus and come to from one side, give the focal surface in µm. What radial and tangential focus differ by in the
        corners counts as an experiment; how the sensor is tilted stands on the face, with the screws of the plate and what
        to turn how far and which way, once the plate is described. What a step moves the sensor by comes from the focuser
        (a corrector that travels with it makes m² of it), is typed, or is reckoned from how fast the stars grow.
      </p>
      <p class="mt-2">
        The <strong>Trainer</strong> shows frames of a simulated camera on your own train and asks what is wrong and what
        to do. It says why on the field, grows harder as you do, and remembers what you confuse with what.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Turning the camera</h2>
      <p class="mt-1">
        A thread stops where it stops. A shim opens the joint and lets it unscrew, anticlockwise seen from the camera:
        0.1 mm on a 0.75 mm pitch is 48°. “Turn it” in a part’s fields lists every way to reach an angle, and what each
        costs in length.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Nothing to save</h2>
      <p class="mt-1">
        Every change is stored as it is made, typing when it pauses, and every state the train was ever in is kept. When
        the server is away the work waits in this browser, also when the window is closed. Use as many windows, phones
        and laptops at once as you like: what they change is put together by itself, every reading is kept, and undo
        takes back only what was done in its own window. Where two have changed the same thing to something else, theirs
        stands and you are asked what shall become of yours. <kbd class="kbd kbd-xs">Esc</kbd> in a field gives back what
        stood there.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Files</h2>
      <p class="mt-1">
        A train is one JSON document in an open format. Bring one in from the list of trains by choosing, dropping or
        pasting it; export one from there. Its <a class="link-quiet" href="/train.schema.json">schema</a> describes
        every key. The drawer comes and goes as JSON (<a class="link-quiet" href="/drawer.schema.json">schema</a>) or as
        CSV for a spreadsheet, headings in five languages; what a table has no column for stays as it is. Files may be
        dropped on any page.
      </p>
    </section>
    <section class="mt-8" id="words">
      <h2 class="text-lg font-semibold">Words the fields use</h2>
      <p class="text-muted mt-1">In a field, F1 opens its own.</p>
      <dl class="mt-2">
        {#each WORDS as [key, { term, says }] (key)}
          <div id={key} class="border-line word border-t py-2">
            <dt class="font-semibold">{term}</dt>
            <dd>{says}</dd>
          </div>
        {/each}
      </dl>
    </section>
  </div>

  <p class="mt-8">
    <button class="btn btn-outline btn-sm" onclick={() => (commands.helpOpen = true)}>Show all keys</button>
  </p>
</main>

<style>
  .word {
    scroll-margin-top: 1rem;
  }
  .word:target {
    background: color-mix(in srgb, var(--color-primary) 14%, transparent);
  }
  .picture {
    margin: 0.75rem 0;
    overflow: hidden;
    border: 1px solid var(--color-base-300);
    border-radius: var(--radius-box);
    isolation: isolate;
  }
  .picture img {
    display: block;
    width: 100%;
    height: auto;
  }
  /* At night a picture is red as everything else is: its lightness only. */
  :global([data-theme='night']) .picture {
    background: #ff2a00;
  }
  :global([data-theme='night']) .picture img {
    filter: grayscale(1) brightness(0.8);
    mix-blend-mode: multiply;
  }
</style>
