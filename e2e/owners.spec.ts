// Several owners on one server: invited, signed in by passphrase and by passkey, signed out from elsewhere, work kept.
import type { Page } from '@playwright/test';
import heron from '../demo/heron.json' with { type: 'json' };
import { randomUUID } from 'node:crypto';
import { invite } from '../scripts/setup/inviting.mjs';
import { Lodestone, expect, expectAccessible, inAllThemes, otherBrowser, test } from './lodestone.ts';

const PHRASE = 'violet harbour tractor seventeen';

/** An application in which everybody signs in; by name, since passkeys hold for a name. */
let club: Lodestone;
let base = '';
test.beforeAll(async () => {
  club = await Lodestone.make({ LODESTONE_OWNERS: 'several', LODESTONE_DEMO: 'off' });
  base = `http://localhost:${club.port}`;
});
test.afterAll(async () => {
  await club.stop();
  club.clear();
});
// Cookies of one are none of another's.
test.use({ anew: true });

const alive = (page: Page) => page.locator('html[data-alive]').waitFor({ state: 'attached' });

/** Takes an invitation up. */
async function join(page: Page, path: string, name: string): Promise<void> {
  await page.goto(base + path);
  await page.getByLabel('Name you sign in with').fill(name);
  await page.getByLabel('Passphrase', { exact: true }).fill(PHRASE);
  await page.getByRole('button', { name: 'Make account' }).click();
  await expect(page).toHaveURL(`${base}/`);
  await alive(page);
}

/** One who looks after the server, as each test has its own. */
const joinAsKeeper = async (page: Page, name: string): Promise<void> =>
  join(page, (await invite(club.ownerUrl))!, name);

async function signIn(page: Page, name: string, phrase = PHRASE): Promise<void> {
  await page.getByLabel('Name').fill(name);
  await page.getByLabel('Passphrase').fill(phrase);
  await page.getByRole('button', { name: 'Sign in', exact: true }).click();
}

async function signOut(page: Page): Promise<void> {
  await page.getByRole('button', { name: 'Sign out', exact: true }).click();
  await expect(page).toHaveURL(`${base}/sign-in`);
  await alive(page);
}

/** An authenticator of this machine, as if somebody touched it whenever it asks (WebDriver, WebAuthn virtual authenticators). */
async function withAuthenticator(page: Page): Promise<void> {
  const session = await page.context().newCDPSession(page);
  await session.send('WebAuthn.enable');
  await session.send('WebAuthn.addVirtualAuthenticator', {
    options: {
      protocol: 'ctap2',
      transport: 'internal',
      hasResidentKey: true,
      hasUserVerification: true,
      isUserVerified: true,
      automaticPresenceSimulation: true
    }
  });
}

const name = (who: string): string => `${who} ${randomUUID().slice(0, 6)}`;

test('somebody is invited, finds an empty place of their own, signs out, and comes back to where they were going', async ({
  page
}) => {
  const [keeper, guest] = [name('Keeper'), name('Guest')];
  await joinAsKeeper(page, keeper);
  await page.goto(`${base}/account`);
  await alive(page);
  await expectAccessible(page, 'account');
  await page.getByRole('button', { name: 'Invite somebody' }).click();
  const link = await page.getByLabel('Link', { exact: true }).inputValue();
  expect(link).toMatch(/\/join#[\w-]{43}$/);

  const other = await otherBrowser(page);
  await join(other, new URL(link).pathname + new URL(link).hash, guest);
  await expect(other.getByText('No trains yet')).toBeVisible();
  await other.goto(`${base}/account`);
  await alive(other);
  await expect(other.getByRole('heading', { name: guest })).toBeVisible();
  await expect(other.getByRole('heading', { name: 'Owners on this server' })).toHaveCount(0);
  await signOut(other);
  await other.goto(`${base}/settings`);
  await expect(other).toHaveURL(`${base}/sign-in?to=%2Fsettings`);
  await alive(other);
  await inAllThemes(other, (theme) => expectAccessible(other, `sign in, ${theme}`));
  await signIn(other, guest, 'wrong words altogether');
  await expect(other.getByRole('alert')).toHaveText('Name and passphrase do not go together.');
  await signIn(other, guest);
  await expect(other).toHaveURL(`${base}/settings`);

  // The link worked once; whoever looks after the server shuts out and lets in again.
  await page.goto(link);
  await expect(page.getByText('This link was used, taken back, or has expired.')).toBeVisible();
  await page.goto(`${base}/account`);
  await alive(page);
  await page.getByRole('button', { name: `Shut out: ${guest}` }).click();
  await expect(page.getByRole('button', { name: `Let in again: ${guest}` })).toBeVisible();
  await other.reload();
  await expect(other).toHaveURL(/\/sign-in/);
});

test('a passkey signs in without the passphrase, and not once it was removed', async ({ page }) => {
  await withAuthenticator(page);
  const owner = name('Key');
  await joinAsKeeper(page, owner);
  await page.goto(`${base}/account`);
  await alive(page);
  await page.getByLabel('Name of the passkey').fill('This laptop');
  await page.getByRole('button', { name: 'Add a passkey' }).click();
  await expect(page.getByRole('listitem').filter({ hasText: 'This laptop' })).toContainText('made');
  await signOut(page);
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await expect(page).toHaveURL(`${base}/`);
  await page.goto(`${base}/account`);
  await alive(page);
  const item = page.getByRole('listitem').filter({ hasText: 'This laptop' });
  await expect(item).toContainText('last used');
  await item.getByRole('button', { name: 'Remove' }).click();
  await expect(item).toHaveCount(0);
  await signOut(page);
  await page.getByRole('button', { name: 'Sign in with a passkey' }).click();
  await expect(page.getByRole('alert')).toContainText('opens nothing here');
});

test('signed out from elsewhere in the middle of work: it is kept, and sent after signing in again', async ({
  page
}) => {
  const owner = name('Work');
  await joinAsKeeper(page, owner);
  const made = await page.request.post(`${base}/api/trains`, { data: { saveId: randomUUID(), document: heron } });
  const { id } = (await made.json()) as { id: string };
  await page.goto(`${base}/trains/${id}/log`);
  await alive(page);

  const other = await otherBrowser(page);
  await other.goto(`${base}/account`);
  await alive(other);
  await signIn(other, owner);
  await expect(other).toHaveURL(`${base}/account`);
  await alive(other);
  await other.getByRole('button', { name: 'Sign out everywhere else' }).click();
  await expect(other.getByText('You are signed out everywhere else.')).toBeVisible();

  await page.getByRole('button', { name: 'Flats were taken today' }).click();
  await expect(page.locator('[data-save-state=sign-in]')).toBeVisible();
  await page.getByRole('link', { name: 'Sign in' }).click();
  await expect(page).toHaveURL(new RegExp(`/sign-in\\?to=%2Ftrains%2F${id}%2Flog`));
  await alive(page);
  // Somebody else signs in at this browser: nothing of that work is theirs.
  const somebody = name('Else');
  await join(other, (await invite(club.ownerUrl))!, somebody);
  await signIn(page, somebody);
  await expect(page.getByText('There is no such train.')).toBeVisible();
  await page.goto(`${base}/account`);
  await alive(page);
  await signOut(page);
  await page.goto(`${base}/trains/${id}/log`);
  await alive(page);
  await signIn(page, owner);
  await expect(page.locator('[data-flats=valid]')).toBeVisible();
  await expect(page.locator('[data-save-state=saved]')).toBeVisible();
  const stored = (await (await page.request.get(`${base}/api/trains/${id}`)).json()) as {
    revision: { number: number };
    document: { flats?: object };
  };
  expect(stored).toMatchObject({ revision: { number: 2 }, document: { flats: {} } });
});

test('a token is told once, and lets a script do what it says', async ({ page }) => {
  await joinAsKeeper(page, name('Script'));
  await page.goto(`${base}/account`);
  await alive(page);
  await page.getByLabel('What it is for').fill('capture machine');
  await page.getByLabel('It may').selectOption('read');
  await page.getByRole('button', { name: 'Make a token' }).click();
  const token = await page.getByLabel('Token', { exact: true }).inputValue();
  const asked = (method: string) =>
    fetch(`${base}/api/trains`, { method, headers: { authorization: `Bearer ${token}` } }).then(({ status }) => status);
  expect(await asked('GET')).toBe(200);
  expect(await asked('POST')).toBe(403);
  await page.reload();
  await alive(page);
  await expect(page.locator('body')).not.toContainText(token);
  await page.getByRole('button', { name: 'Take back token capture machine' }).click();
  await expect(page.getByText('taken back: it opens nothing any more')).toBeVisible();
  expect(await asked('GET')).toBe(401);
});

test('a train is shared: found in the list, edited by both, seen by both at once, and not any more', async ({
  page
}) => {
  const [owner, guest] = [name('Owner'), name('Guest')];
  await joinAsKeeper(page, owner);
  const made = await page.request.post(`${base}/api/trains`, { data: { saveId: randomUUID(), document: heron } });
  const { id } = (await made.json()) as { id: string };
  const other = await otherBrowser(page);
  await join(other, (await invite(club.ownerUrl))!, guest);

  await page.goto(`${base}/trains/${id}/log`);
  await alive(page);
  await page.getByRole('button', { name: 'More of Heron' }).click();
  await page.getByRole('menuitem', { name: /^Share/ }).click();
  const sharing = page.getByRole('region', { name: 'With an owner on this server' });
  await sharing.getByLabel('Name they sign in with').fill(guest);
  await sharing.getByRole('button', { name: 'Share', exact: true }).click();
  await expect(sharing.locator(`[data-guest="${guest}"]`)).toBeVisible();
  await expectAccessible(page, 'sharing with an owner');

  // To look at: a page of its own.
  await other.goto(base);
  await alive(other);
  await other.getByRole('link', { name: 'Heron' }).click();
  await expect(other).toHaveURL(`${base}/with/${id}`);
  await expect(other.getByRole('heading', { name: 'Heron' })).toBeVisible();

  // To edit: the stages, and what either changes the other sees.
  await sharing.getByLabel(`What ${guest} may do`).selectOption('edit');
  await page.getByRole('button', { name: 'Close' }).first().click();
  await other.goto(`${base}/trains/${id}/log`);
  await alive(other);
  await expect(other.locator('[data-shared-by]')).toContainText(owner);
  await expectAccessible(other, 'a train of somebody else');
  await other.getByRole('button', { name: 'Flats were taken today' }).click();
  await expect(other.locator('[data-save-state=saved]')).toBeVisible();
  await expect(page.locator('[data-flats=valid]')).toBeVisible();

  await other.getByRole('button', { name: 'More of Heron' }).click();
  await other.getByRole('menuitem', { name: 'Leave this train' }).click();
  await expect(other.getByText('Heron is not shared with you any more.')).toBeVisible();
  await expect(other.getByRole('heading', { name: 'Shared with you' })).toHaveCount(0);
});

test('somebody else signs in at another tab: an open page begins anew as theirs', async ({ page }) => {
  const [one, other] = [name('One'), name('Other')];
  await joinAsKeeper(page, one);
  const tab = await page.context().newPage();
  await tab.goto(`${base}/account`);
  await alive(tab);
  await signOut(tab);
  await join(tab, (await invite(club.ownerUrl))!, other);
  // Without asking for the page anew, as following a link does.
  await page.evaluate(() => Reflect.set(window, 'stale', true));
  await page.getByRole('link', { name: 'Settings' }).click();
  await expect(page.getByRole('link', { name: `Account: ${other}` })).toBeVisible();
  // It is on its way to being loaded anew while it is asked.
  const isStale = () => page.evaluate(() => Reflect.get(window, 'stale') as unknown).catch(() => true);
  await expect.poll(isStale).toBeUndefined();
  await expect(page.getByRole('link', { name: `Account: ${other}` })).toBeVisible();
});
