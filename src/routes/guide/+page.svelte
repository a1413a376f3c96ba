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
  import madePicture from '../../../docs/screenshots/made.png';
  import drawerPicture from '../../../docs/screenshots/drawer.png';
  import measurePicture from '../../../docs/screenshots/measure.png';
  import newPicture from '../../../docs/screenshots/new.png';
  import firstLightPicture from '../../../docs/screenshots/first-light.png';
  import starsPicture from '../../../docs/screenshots/stars.png';
  import tiltPicture from '../../../docs/screenshots/tilt.png';
  import trainerPicture from '../../../docs/screenshots/trainer.png';
  import comparePicture from '../../../docs/screenshots/compare.png';
  import logPicture from '../../../docs/screenshots/log.png';

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
    The tasks in the order of the job. Each page has its keys under <kbd class="kbd kbd-sm">?</kbd>; F1 in a field opens
    its word in the glossary below.
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
        ? `No section has “${query.trim()}”.`
        : `${found} ${found === 1 ? 'section' : 'sections'}`}{/if}
  </p>
  <div bind:this={sections}>
    <section class="mt-8">
      <h2 class="text-lg font-semibold">Start a train</h2>
      {@render picture(newPicture, 'The start page with telescope, corrector and camera, and the first answer')}
      <p class="mt-2">
        A corrector gives sharp corners only at its <em>back focus</em>: the distance from its shoulder to the sensor.
        Lodestone adds up everything between the two and gives the error and the next step.
      </p>
      <ol class="mt-2 list-decimal space-y-1 pl-5">
        <li><p>Open <a class="link-quiet" href="/new">Start a new train</a>.</p></li>
        <li>Type the telescope: <em>100 f/6</em>, <em>115/805</em> or <em>lens 85 f/2</em>.</li>
        <li>Type the back focus of the corrector, or pick the corrector.</li>
        <li>Type the flange distance of the camera, or pick the camera.</li>
        <li>Press “Go on to Build”.</li>
      </ol>
      <h3 class="mt-3 font-semibold">From notes</h3>
      <p class="mt-1">
        Choose <a class="link-quiet" href="/new?from=notes">From notes</a> and paste what you have written down, a piece
        a line or parted by commas: <em>115 f/7, 0.79x reducer 58.3, OAG 17.2 M54 f–m, wheel 21.6, cam 12.5</em>. Faces
        are threads, screws (<em>6 bolts on 62</em>), a bayonet (<em>DSLR 44.0</em>) or a lock ring. Lodestone shows its
        reading of each piece. Where a piece can mean two things, press the answer. “Keep it as a note” puts the piece
        into the note of the train. Where the parts are too short, Build has a gap behind the corrector.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">The leaflet gives two distances.</dt>
          <dd class="inline">
            Open “More” and choose the plane the back focus is measured from: shoulder, thread tip or last glass
            surface.
          </dd>
        </div>
        <div>
          <dt class="inline font-semibold">A fast telescope is taken for a lens, or a lens for a telescope.</dt>
          <dd class="inline">Type the word before it: <em>lens 135 f/2</em> or <em>telescope 135 f/2</em>.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">The part is not in the list.</dt>
          <dd class="inline">Type its figure. You can correct every field later.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Read the answer</h2>
      {@render picture(whyPicture, 'Build with the sum behind a number opened over it')}
      <p class="mt-2">
        The large figure at the top is the <em>error</em>: how much the train is too long or too short. The next step
        follows it. Rest the pointer on a dotted number, or move to it with Tab, to see its sum.
      </p>
      <p class="mt-2">
        Lengths are shoulder to shoulder, without threads. The length of a camera is flange to sensor. A measured length
        counts in place of the published one. Glass behind the corrector moves the focus back by about a third of its
        thickness.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Build</h2>
      {@render picture(buildPicture, 'A train to scale on the rail, and under it each part as a step of the sum')}
      <p class="mt-2">
        The rail is the train to scale, sky on the left: cut open above the axis, from outside below it. The solid line
        is the sensor, the dashed line its required place, the band the tolerance. The scale along the axis is larger
        than across; <kbd class="kbd kbd-sm">P</kbd> shows true proportions.
      </p>
      <p class="mt-2">
        Click a part or a joint to edit it, or walk with <kbd class="kbd kbd-sm">←</kbd>
        <kbd class="kbd kbd-sm">→</kbd>. Drag a part to another joint, or move it with Alt and the arrow keys. Alt 1 to
        Alt 6 open the stages; Escape leaves a field.
        <kbd class="kbd kbd-sm">A</kbd>
        adds a part where the selection is. <kbd class="kbd kbd-sm">D</kbd> at a joint shows the parts of your drawer that
        fit.
      </p>
      <p class="mt-2">
        Ctrl click chooses one part more, Shift click all up to it; by keys <kbd class="kbd kbd-sm">Shift</kbd> with the arrows.
        What you do then, moving, copying or removing, is done to all of them.
      </p>
      <p class="mt-2">The staircase under the rail has one step per part. Filled: measured. Dashed: published only.</p>
      <p class="mt-2">
        What can be taken off a part, as a nose, a tilt plate or the mount of a lens, is under “Can be taken off” in its
        fields. While it is on, its length counts. Taken off a host, its length is added to what is required.
      </p>
      <p class="mt-2">
        On First light, Tune and Log the rail is folded to a strip. <kbd class="kbd kbd-sm">Shift</kbd>
        <kbd class="kbd kbd-sm">G</kbd> opens and folds it.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">A joint is red.</dt>
          <dd class="inline">Its faces do not fit. The finding names the adapter, and whether you own one.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">A leaflet does not say from where it measures.</dt>
          <dd class="inline">The three planes are drawn in the fields of the corrector, with the question to ask.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">A length looks wrong.</dt>
          <dd class="inline">Check the face it is measured from, then measure the part.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Keep a drawer</h2>
      {@render picture(drawerPicture, 'The drawer: every part with its faces, length, place and train')}
      <p class="mt-2">
        The <a class="link-quiet" href="/drawer">drawer</a> has every part you own: faces, lengths, place, and the train
        that uses it. <kbd class="kbd kbd-sm">/</kbd> searches: <em>m48 f 16.5</em>, <em>tin 2</em>, <em>in Heron</em>,
        <em>10–20</em>.
      </p>
      <p class="mt-2">
        <kbd class="kbd kbd-sm">N</kbd> adds parts in one line: <em>M48×0.75 f–m 10, 7.5, 16.5 ×2</em> is four rings,
        <em>shims 0.1 ×3 0.3</em> is four shims, <em>wheel 20, drawer 15, T-ring 11</em> is one of each. The sky face
        comes first. <em>M48 f–m 12 long, 3.5 of it screws in</em> is 8.5 long,
        <em>M48 f 5 m 3.5 10</em> is 10 long with a bore of 5 and a thread of 3.5. M48 has one usual pitch; it is taken
        and marked as assumed. <em>filter 36 2 mm</em> is a filter of 36 mm with 2 mm of glass.
      </p>
      <p class="mt-2">
        “Or field by field” begins with a usual part: T-rings, step rings, lens adapters, noses. Their figures are
        common practice; check yours. On Build the same parts are offered where you type a name that the drawer does not
        have.
      </p>
      <p class="mt-2">An assembled train holds its parts. Other trains cannot use them until it is taken apart.</p>
      <p class="mt-2">
        Print labels with <kbd class="kbd kbd-sm">B</kbd>. <kbd class="kbd kbd-sm">Shift L</kbd> reads one with the camera
        or out of a photo: the drawer opens the part, the measuring page turns to it, Build places it. Away from this machine
        browsers need TLS for the camera; a photo works everywhere.
      </p>
      <p class="mt-2">
        Two pages state different lengths? Keep both with their sources under “Other published lengths”: either may be
        true until you measure the part. “Sources” keeps who states a figure, where and when, with a scan; asked “why?”,
        the number names them.
      </p>
      <p class="mt-2">
        “Lengths” shows which lengths the rings of one thread make, which they do not, and the one to three rings that
        fill most of those.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">“M42” is refused.</dt>
          <dd class="inline">Two pitches exist. Type M42×0.75 or M42×1.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">A CSV file has other headings.</dt>
          <dd class="inline">Choose the meaning of each column in the import dialog. The last import can be undone.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Measure</h2>
      {@render picture(measurePicture, 'A part being measured: its reading, its uncertainty and the next part')}
      <ol class="mt-2 list-decimal space-y-1 pl-5">
        <li>Press <kbd class="kbd kbd-sm">M</kbd> in the drawer.</li>
        <li>Close the jaws and take a zero check.</li>
        <li>Measure each part and type the reading, or connect a caliper that sends keys or has a serial cable.</li>
      </ol>
      <p class="mt-2">
        Readings of one caliper share its error: ten readings are not ten times as good. The uncertainty takes that into
        account. A new reading updates every train that is planned with the part.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">A reading is far off.</dt>
          <dd class="inline">It does not count until you confirm it. Ctrl Z removes the last one.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">Readings contradict each other.</dt>
          <dd class="inline">The uncertainty grows. Clean the faces and measure again.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Find a stack</h2>
      {@render picture(finderPicture, 'The finder: stacks in a list, the chosen one dashed on the rail')}
      <p class="mt-2">
        <kbd class="kbd kbd-sm">F</kbd> fills every gap from the drawer. Walk the list with the arrow keys: each stack
        appears dashed on the rail. <kbd class="kbd kbd-sm">Enter</kbd> fits it. “Searched completely” means that no other
        stack within that many pieces is better.
      </p>
      <p class="mt-2">
        Drag the marker above a gap to limit it. Pin a part that must be used, or ban one. “Together with other trains”
        fills two or three trains from one drawer.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">No stack is within tolerance.</dt>
          <dd class="inline">
            The list starts with advice that was tried: remove a nose, replace an adapter or a filter holder, or have
            one ring made, with its drawing.
          </dd>
        </div>
        <div>
          <dt class="inline font-semibold">A face is unknown.</dt>
          <dd class="inline">The finder names it. State what it screws to.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Have a part made</h2>
      {@render picture(
        madePicture,
        'A flange made to measure: its faces and screws, two variants, the sheet for the workshop'
      )}
      <p class="mt-2">
        Choose a gap, a ring or an adapter and press <kbd class="kbd kbd-sm">Shift M</kbd>. Its length is the one that
        brings the train to its back focus, its faces are those its neighbours need. State the tolerance, the screws of
        a bolted face, and the flange where a bayonet is needed: a lathe makes none, so one is bolted on. “Add a
        variant” draws the same part for another camera or without the wheel on one sheet. Save it as PDF, SVG or DXF,
        or a dummy to print as STL. “Put it into the train” replaces the part, screws included.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">It cannot be made.</dt>
          <dd class="inline">
            The reason is beside it: a wall that falls into two, screws no driver reaches, an outer diameter too small.
          </dd>
        </div>
        <div>
          <dt class="inline font-semibold">The flange is unknown.</dt>
          <dd class="inline">Take it off an old adapter, and measure its thickness and its circle of screws.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Check</h2>
      {@render picture(checkPicture, 'The Check stage: the beam on the rail, the face next to it, every check below')}
      <p class="mt-2">
        Check answers each question in a sentence, problems first. Buttons apply a remedy that was tried. “Not known”
        names the missing field.
      </p>
      <p class="mt-2">
        Three layers on the rail: <kbd class="kbd kbd-sm">B</kbd> the beam, <kbd class="kbd kbd-sm">V</kbd> the guide
        camera, <kbd class="kbd kbd-sm">K</kbd> the load. The face is the train from the camera: the sensor at true size,
        lines of equal light, the openings and the prism.
      </p>
      <p class="mt-2">
        Framing draws an object at true size behind the sensor, with panels and the rotation it needs. Objects and stars
        come from the open catalogue of d3-celestial (BSD-3); star counts from Bahcall &amp; Soneira. Slots shows the
        filter wheel, its balance and the order of the filters.
      </p>
      <p class="mt-2">
        Under framing, plan exposures by filter: the time counts panels that take longer, and is set against a colour
        camera and against the telescope without its reducer. “Nights by filter” names what each night exposes, and when
        filters are changed by hand. Under load, type the weight you own or the place you have for it, and for a heavier
        camera read what to hang for a sag test.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">Corner light is low.</dt>
          <dd class="inline">The finding names the opening that takes most, and how wide it must be.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">The guide camera does not reach focus.</dt>
          <dd class="inline">
            The finding gives the tube length. State what the guide camera screws to, and the drawer is searched.
          </dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Assemble</h2>
      <p class="mt-2">
        One step at a time, from the camera or from the telescope: parts, tools, cautions and the joint drawn large.
        Type the caliper reading: Enter keeps it, Enter again marks the step done. Progress is kept offline and on every
        device.
      </p>
      <p class="mt-2">
        Measure a thread when the page requests it: it cannot be measured once its joint is closed. Before the last
        joint the page lists the dial setting or the shims that bring the sensor closest.
      </p>
      <p class="mt-2">
        The bench sheet, in the menu behind the three dots, draws every part at true size to lay the real ones on. Check
        the printer by its line of 100 mm.
      </p>
      <p class="mt-2">
        A bolted wheel is opened first, its screws counted, and a plate goes onto the camera before the carousel covers
        its screws. Filters are ticked slot by slot.
      </p>
      <p class="mt-2">Finish makes a record that no later change touches.</p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">A reading is far off.</dt>
          <dd class="inline">Confirm it, or use the value that was probably meant.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">A joint changed after its step.</dt>
          <dd class="inline">Only that step is open again.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Reach focus</h2>
      {@render picture(
        firstLightPicture,
        'First light: the focus curve over the draw tube, and the instruction next to it'
      )}
      <p class="mt-2">
        First light shows whether the draw tube reaches focus and which extension tube helps, then gives one instruction
        at a time. Type the half-flux radius of each frame, drop the frame, or use the simulated focuser.
      </p>
      <p class="mt-2">
        The curve is drawn over the draw tube on the same axis: a position of the curve is a position of the tube.
        Approach every position from the same side.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">The star never gets small.</dt>
          <dd class="inline">
            Enter “fully out: not enough” or “fully in: too far already” under “No focus?”. The bounds and the tube
            length follow.
          </dd>
        </div>
        <div>
          <dt class="inline font-semibold">Points jump.</dt>
          <dd class="inline">Use the same star, and take up the backlash after each reversal.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Tune the spacing</h2>
      {@render picture(starsPicture, 'Tune: the experiments over the sensor end, the star map below')}
      <p class="mt-2">
        Drop test frames on any page of a train, or let the capture program send them: Tune has the line to copy. Every
        star is measured. Faults are named with their probability: spacing, tilt, tracking, collimation, focus, light.
        Frames stay on this machine.
      </p>
      <p class="mt-2">
        One frame does not show which way the spacing is off. Keep a frame or an entry by eye at each spacing you try.
        The line crosses zero at the best spacing; the next try is a ring on the rail, with the parts of your drawer
        that make it. Keep the result as the tuned back focus.
      </p>
      <p class="mt-2">
        Frames of one setup differ by themselves. Take ten without touching anything, and keep them together under
        “Several frames of this setup”: the interval is as wide as they show.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">“Not clear from this frame”.</dt>
          <dd class="inline">The message names the frame to take instead.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">The picture is upside down.</dt>
          <dd class="inline">The file does not say which row is the top: choose it below the result of the frame.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">The corners never get round.</dt>
          <dd class="inline">Run a sweep: it separates tilt, curvature and astigmatism.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Measure tilt</h2>
      {@render picture(tiltPicture, 'A sweep: the tilt on the face, and which screw to turn by how much')}
      <p class="mt-2">
        A sweep takes frames at five or more focuser positions, on both sides of focus and approached from one side. It
        gives the focal surface in µm. Describe the screws of the tilt plate, and the face shows which to turn, how far
        and which way.
      </p>
      <p class="mt-2">The size of a focuser step comes from the focuser, from you, or from how fast the stars grow.</p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">The correction went in another direction.</dt>
          <dd class="inline">
            The screws are not where they were described. One more correction shows where they are, or a card held
            before the sensor at screw 1 and then at screw 2.
          </dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Practise</h2>
      {@render picture(trainerPicture, 'The trainer: a frame with one fault, and the explanation')}
      <p class="mt-2">
        The trainer shows frames of a simulated camera on your train. Choose the fault and the remedy. It explains the
        answer on the field, gets harder, and remembers which faults you confuse.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Log: history and nights</h2>
      {@render picture(logPicture, 'The history of a train, one state of it on the rail, and nights beside it')}
      <p class="mt-2">
        Every state of a train is kept, gathered by sittings: what changed, and the length then. Choose a state in the
        list, or with the slider under the line, to see it on the rail. Nothing changes until you press “Restore it”,
        and undo takes that back. A state can have a name, and can be compared with the train as it is now.
      </p>
      <p class="mt-2">
        “Write down tonight” keeps hours by filter, guiding, seeing, HFR and what was wrong, on a phone and without a
        network. Frames that arrived fill in their night. Around each change of the train the log compares the nights
        before and after it, with the uncertainty of the difference. “Season” adds up the nights of all trains.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">No comparison is shown.</dt>
          <dd class="inline">It needs two nights with the same figure on each side of a change.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">A night has the wrong date.</dt>
          <dd class="inline">Until noon it is the evening before. Correct it with the pencil.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8" id="share">
      <h2 class="text-lg font-semibold">Share and back up</h2>
      <p class="mt-2">
        The three dots beside the name of a train share, duplicate, archive and delete it, or start another train from
        it. Tags, under Train on Build, narrow the list of trains down. <kbd class="kbd kbd-sm">Ctrl C</kbd> copies the
        chosen parts, <kbd class="kbd kbd-sm">Ctrl V</kbd> puts them into this train or another one.
      </p>
      <p class="mt-2">
        “Web page” is one file with drawing, sums, parts and steps that opens without a network. A link shows one train
        to whoever has it, until you take it back; it has a QR code. The link is of use to others where this server
        listens beyond its own machine.
      </p>
      <p class="mt-2">
        Import a document that somebody else sent: for each of its parts that is not in your drawer, choose one of yours
        that does the same, or keep theirs to be bought. The verdict with your parts is below the list.
      </p>
      <p class="mt-2">
        Settings makes a backup of everything as one ZIP archive, and restores one after a look at what that adds.
        Trains and parts that are here already stay as they are. It also makes backups on a schedule and keeps the
        newest ones on the server; copy them to another disk from time to time.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">An archive is refused.</dt>
          <dd class="inline">The message names the file in it that is damaged or changed. Nothing was restored.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">A restored train is not marked as assembled.</dt>
          <dd class="inline">Its parts are in another assembled train here.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Compare, pack, change over</h2>
      {@render picture(comparePicture, 'Two trains on one scale, with the rows that differ first')}
      <p class="mt-2">
        Records, with photos, are in the history of Log, and are compared with trains, variants and earlier states. Rows
        that differ come first. Press the star of a row that counts for you: only there a train is called better.
      </p>
      <p class="mt-2">
        The packing list goes by train or by place, tin by tin. A change-over draws both trains: what stays assembled,
        the joints to open and to close in order, the parts to put away and to fetch.
      </p>
      <p class="mt-2">Flats stay valid until a joint between the filters and the sensor is opened.</p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Turn the camera</h2>
      <p class="mt-2">
        A thread stops where it stops. A shim opens the joint and lets it unscrew, anticlockwise seen from the camera:
        0.1 mm on a pitch of 0.75 mm is 48°. “Turn it” in the fields of a part lists every way to reach an angle, and
        its cost in length.
      </p>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Saving and devices</h2>
      <p class="mt-2">
        Every change is saved as you make it, and every state of a train is kept. Without the server the work waits in
        this browser, also when the window is closed. Use several windows, phones and laptops at once: changes are
        combined, every reading is kept, and undo affects only its own window, also after a reload. <kbd
          class="kbd kbd-sm">Esc</kbd
        > in a field restores its value.
      </p>
      <p class="mt-2">
        Before a night without a network, open the trains you need on the phone. Pages you visited and every stage of
        trains you opened then open without the server. The top of the page shows when they were kept. Your browser’s
        menu can install Lodestone as an application. <a class="link" href="/settings">Settings</a> show what is kept, and
        delete it.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">Nothing opens without the server.</dt>
          <dd class="inline">
            Browsers keep pages only from <code>https://…</code> or from this computer itself. Start the server with a certificate.
          </dd>
        </div>
        <div>
          <dt class="inline font-semibold">Two devices changed the same value.</dt>
          <dd class="inline">The saved one stays, and you choose value by value, with what each choice comes to.</dd>
        </div>
      </dl>
    </section>

    <section class="mt-8" id="owners">
      <h2 class="text-lg font-semibold">Several people on one server</h2>
      <p class="mt-2">
        A server started for several people has a drawer and trains for each of them. Whoever looks after it invites the
        others under Account, which Settings lead to: a link that works once. Sign in with your passphrase, or add a
        passkey under Account and use the lock of your phone or computer.
      </p>
      <p class="mt-2">
        Share in the menu of a train shows it to another owner, or lets them edit it with you. Both see each other’s
        changes at once. Your drawer and your records stay yours. Account also lists every browser you are signed in on,
        and makes tokens for capture programs.
      </p>
      <h3 class="mt-3 font-semibold">If it goes wrong</h3>
      <dl class="mt-1 grid gap-1">
        <div>
          <dt class="inline font-semibold">You forgot your passphrase.</dt>
          <dd class="inline">
            Whoever looks after the server makes a new link for you under Account, or on the server with
            <code>npm run invite -- NAME</code>.
          </dd>
        </div>
        <div>
          <dt class="inline font-semibold">The page shows “kept here, sign in”.</dt>
          <dd class="inline">You were signed out, here or from another browser. Sign in again, and it is sent.</dd>
        </div>
        <div>
          <dt class="inline font-semibold">There is no passkey to add.</dt>
          <dd class="inline">
            Browsers use passkeys only at <code>https://…</code> with a name, or at <code>localhost</code>.
          </dd>
        </div>
      </dl>
    </section>

    <section class="mt-8">
      <h2 class="text-lg font-semibold">Files</h2>
      <p class="mt-2">
        A train is one JSON document in an open format (<a class="link-quiet" href="/train.schema.json">schema</a>).
        Import and export it from the list of trains, or drop it on any page. The drawer is JSON (<a
          class="link-quiet"
          href="/drawer.schema.json">schema</a
        >) or CSV, with headings in five languages. Keys without a column stay unchanged.
      </p>
    </section>

    <section class="mt-8" id="words">
      <h2 class="text-lg font-semibold">Glossary</h2>
      <p class="text-muted mt-1">F1 in a field opens its entry.</p>
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
