// How long the next step of an assembly takes on a phone: a press, to the paint of the step after it.

const AIM_MS = 100;
/** As slow as a middling phone beside this machine (common practice, no source). */
const SLOWER = 4;

/** Prints the time from “Done” to the next step painted, on a throttled phone. */
export async function measureSteps(browser, url, say) {
  const context = await browser.newContext({ viewport: { width: 390, height: 844 }, serviceWorkers: 'block' });
  const page = await context.newPage();
  const train = (await (await page.request.get(`${url}/api/trains`)).json()).find(
    ({ document }) => document.name === 'Long Tom'
  );
  await page.goto(`${url}/trains/${train.id}/assemble`);
  await page.locator('[data-done]').waitFor();
  const devtools = await context.newCDPSession(page);
  await devtools.send('Emulation.setCPUThrottlingRate', { rate: SLOWER });
  const took = [];
  for (let step = 0; step < 6; step++) {
    took.push(
      await page.evaluate(
        () =>
          new Promise((painted) => {
            const before = document.querySelector('[data-step]').textContent;
            const began = performance.now();
            document.querySelector('[data-done]').click();
            const look = () =>
              document.querySelector('[data-step]')?.textContent === before
                ? requestAnimationFrame(look)
                : setTimeout(() => painted(performance.now() - began));
            requestAnimationFrame(look);
          })
      )
    );
    await page.waitForTimeout(400);
  }
  took.sort((a, b) => a - b);
  say(`\nThe next step of an assembly, on a phone ${SLOWER} times slower:`);
  say(
    `  ${'Done to the next step painted, median'.padEnd(44)} ${took[3].toFixed(0).padStart(10)} ms  aim: at most ${AIM_MS}`
  );
  say(`  ${'the slowest'.padEnd(44)} ${took.at(-1).toFixed(0).padStart(10)} ms`);
  await context.close();
}
