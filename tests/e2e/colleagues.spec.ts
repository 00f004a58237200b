import { TOTP } from 'otpauth';
import { partOf } from '../support/sampling.ts';
import { expect, openLetter, OWNER, send, test } from '../support/stage.ts';

test('an owner invites an editor, who comes in by the letter, changes the draft and may not publish', async ({
  owner,
  browser,
  stage,
}) => {
  await owner.getByRole('button', { name: 'Signed in as Olive Tarrant' }).click();
  await owner.getByRole('menuitem', { name: 'Settings' }).click();
  await owner.getByRole('link', { name: 'Colleagues' }).click();
  const invitation = owner.getByRole('region', { name: 'Invite a colleague' });
  await invitation.getByLabel('Name').fill('Wren Alder');
  await invitation.getByLabel('E-mail').fill('wren@quillfern.example');
  await owner.getByRole('button', { name: 'Invite', exact: true }).click();
  await expect(owner.getByText(/^An invitation is on its way to wren@quillfern.example/)).toBeVisible();
  await expect(owner.getByRole('row', { name: /Wren Alder/ })).toContainText('Invited, not here yet');

  const page = await (await browser.newContext()).newPage();
  await openLetter(page, stage, 'wren@quillfern.example', 'invites you to Quillfern Nursery');
  await page.getByRole('link', { name: 'Choose a password' }).click();
  await page.getByLabel('A password').fill('1234567890');
  await page.getByRole('button', { name: 'Sign in with it' }).click();
  await expect(page.getByText('several words do well', { exact: false }).first()).toBeVisible();
  await page.getByLabel('A password').fill('rook-and-lantern-9');
  await page.getByRole('button', { name: 'Sign in with it' }).click();
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();

  await page.getByRole('link', { name: 'Connection' }).click();
  await expect(page.getByText('Owners of the shop see the secret here.')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Web hooks' })).toBeHidden();
  await page.goto(`${stage.understudy.url}/review`);
  await expect(page.getByText('A publisher or an owner of the shop publishes it.', { exact: false })).toBeVisible();
  await expect(page.getByRole('button', { name: /^Publish edition/ })).toBeDisabled();

  await owner.getByLabel('Role of Wren Alder').click();
  await owner.getByRole('option', { name: 'Publisher' }).click();
  await page.reload();
  await expect(page.getByText('A publisher or an owner of the shop publishes it.', { exact: false })).toBeHidden();
  await page.context().close();
});

test('an owner makes a key for a program, which brings stock in and nothing else, and revokes it', async ({
  owner,
  stage,
}) => {
  await owner.goto(`${stage.understudy.url}/settings/keys`);
  await owner.getByRole('button', { name: 'Make the key' }).click();
  await expect(owner.getByText('Write what the program is called')).toBeVisible();
  await expect(owner.getByText('Choose at least one')).toBeVisible();
  await owner.getByLabel('Which program is it for?').fill('The warehouse');
  await owner.getByRole('checkbox', { name: /^Catalog/ }).check();
  await owner.getByRole('button', { name: 'Make the key' }).click();
  const key = await owner.getByText(/^understudy_/).textContent();
  const headers = { Authorization: `Bearer ${key}`, 'Content-Type': 'text/csv' };
  const bring = (what: string) =>
    owner.request.post(`${stage.understudy.url}/api/${what}/import`, { headers, data: 'variant_id\n' });
  expect((await bring('catalog')).status()).toBe(200);
  expect((await bring('people')).status()).toBe(403);
  await owner.reload();
  await expect(owner.getByText(/^understudy_/)).toBeHidden();
  await expect(owner.getByRole('row', { name: /The warehouse/ })).not.toContainText('Not yet');
  await owner.getByRole('button', { name: 'Revoke The warehouse' }).click();
  await owner.getByRole('dialog').getByRole('button', { name: 'Revoke' }).click();
  await expect(owner.getByRole('row', { name: /The warehouse/ })).toContainText('Revoked');
  expect((await bring('catalog')).status()).toBe(401);
});

const SCREENS = [
  '/today',
  '/rules/trade-hedging',
  '/rehearsal',
  '/calendar',
  '/editions',
  '/review',
  '/text',
  '/catalog?shown=waitlist&to=Guest',
  '/catalog/ash-dibber',
  '/catalog?imports=recent',
  '/people',
  '/people?imports=recent',
  '/people?person=c-06',
  '/connection',
  '/waitlists',
  '/preorders',
  '/quotes',
  '/enquiries',
  '/messages',
  '/messages/words',
  '/messages/settings',
  '/texts',
  '/forms',
  '/settings/shop',
  '/settings/colleagues',
  '/settings/keys',
  '/settings/record',
] as const;

/** Groups similar buttons by the start of their names, without digits, so that only one of each kind is pressed. */
const kindOf = (name: string) => name.replace(/[0-9]+/g, '').slice(0, 12);
/** Leads to another site, or saves a file: nothing of ours answers. */
const LEADS_AWAY = /^Open the|Export|Download/;

test('a viewer sees every screen, and nothing that they can press is refused', async ({ browser, stage }) => {
  test.slow();
  const viewer = { name: 'Vera Brook', email: 'vera@quillfern.example', role: 'viewer' };
  await send(stage, 'POST', '/api/colleagues', viewer);
  const page = await (await browser.newContext()).newPage();
  await openLetter(page, stage, viewer.email, 'invites you to Quillfern Nursery');
  await page.getByRole('link', { name: 'Choose a password' }).click();
  await page.getByLabel('A password').fill('rook-and-lantern-9');
  await page.getByRole('button', { name: 'Sign in with it' }).click();
  await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
  const refused: string[] = [];
  let pressing = '';
  page.on('response', (response) => {
    if (response.status() === 403) refused.push(`${pressing}: ${response.request().method()} ${response.url()}`);
  });
  // Press the buttons of a table's first row only, as all rows have the same, and none behind a dialog.
  const other = ':not(tr:nth-child(n+2) *, [role=row]:nth-child(n+2) *, [aria-hidden=true] *)';
  const buttons = page.locator(`main button:enabled${other}, [role=dialog] button:enabled${other}`);
  const kindsHere = () =>
    buttons.evaluateAll((all) =>
      all
        .filter((button) => button.checkVisibility())
        .map((button) => (button.getAttribute('aria-label') ?? button.textContent).trim()),
    );
  const presses: Record<string, number> = {};
  const screens = partOf(SCREENS, 6);
  for (const screen of screens) {
    const open = async () => {
      await page.goto(stage.understudy.url + screen);
      await page.waitForLoadState('networkidle');
    };
    pressing = screen;
    await open();
    await expect(page.getByText('Something went wrong')).toHaveCount(0);
    const names = (await kindsHere()).filter((name) => !LEADS_AWAY.test(name));
    const kinds = [...new Set(names.map(kindOf))];
    presses[screen] = 0;
    for (const kind of kinds) {
      const place = async () =>
        (await kindsHere()).findIndex((name) => !LEADS_AWAY.test(name) && kindOf(name) === kind);
      const isElsewhere = !page.url().startsWith(stage.understudy.url + (screen.split('?')[0] ?? ''));
      // An earlier press may have left the screen or removed this button.
      if (isElsewhere || (await place()) < 0) await open();
      pressing = `${screen}, “${kind}”`;
      await buttons
        .filter({ visible: true })
        .nth(await place())
        .click();
      await page.keyboard.press('Escape');
      presses[screen] += 1;
    }
    expect(presses[screen], `presses on ${screen}`).toBe(kinds.length);
    await page.waitForLoadState('networkidle');
  }
  expect(refused).toEqual([]);
  // A screen that opens with a dialog offers only the dialog's buttons; the others prove that something was tried.
  const total = Object.values(presses).reduce((sum, count) => sum + count, 0);
  expect(total, JSON.stringify(presses)).toBeGreaterThan(
    3 * screens.filter((screen) => !screen.includes('person=')).length,
  );
  test.info().annotations.push({ type: 'presses', description: JSON.stringify(presses) });
  await page.context().close();
});

test('a colleague turns a second factor on, comes in with its code, and by a recovery code without the telephone', async ({
  owner,
  browser,
  stage,
}) => {
  await owner.goto(`${stage.understudy.url}/settings/you`);
  const factor = owner.getByRole('region', { name: 'Second factor' });
  await factor.getByRole('button', { name: 'Turn it on' }).click();
  await factor.getByLabel('Your password').fill(OWNER.password);
  await factor.getByRole('button', { name: 'Go on' }).click();
  await expect(factor.getByRole('img', { name: 'The key, as a QR code' })).toBeVisible();
  const secret = (await factor.getByText(/^[A-Z2-7]{32}$/).textContent()) ?? '';
  const shown = (steps = 0) => new TOTP({ secret }).generate({ timestamp: Date.now() + steps * 30_000 });
  await factor.getByLabel('Six digits').fill('000000');
  await factor.getByRole('button', { name: 'Turn it on' }).click();
  await expect(factor.getByText('This code is wrong', { exact: false })).toBeVisible();
  await factor.getByLabel('Six digits').fill(shown());
  await factor.getByRole('button', { name: 'Turn it on' }).click();
  const codes = ((await factor.getByText(/^[a-z2-9]{5}-[a-z2-9]{5}/).textContent()) ?? '').split(/\s+/);
  expect(codes).toHaveLength(10);
  await factor.getByRole('button', { name: 'I have kept them' }).click();
  await expect(factor).toContainText('10 recovery codes are left');

  for (const code of [shown(1), codes[0] ?? '']) {
    const page = await (await browser.newContext()).newPage();
    await page.goto(stage.understudy.url);
    await page.getByLabel('E-mail').fill(OWNER.email);
    await page.getByLabel('Password').fill(OWNER.password);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByText('Write the six digits', { exact: false })).toBeVisible();
    await page.getByLabel('Code').fill(code);
    await page.getByRole('button', { name: 'Sign in' }).click();
    await expect(page.getByRole('heading', { name: 'Today' })).toBeVisible();
    await page.context().close();
  }
  await owner.reload();
  await expect(factor).toContainText('9 recovery codes are left');
  await factor.getByRole('button', { name: 'Turn it off' }).click();
  await factor.getByLabel('Your password').fill(OWNER.password);
  await factor.getByLabel('Code from your telephone, or a recovery code').fill(codes[1] ?? '');
  await factor.getByRole('button', { name: 'Turn it off' }).click();
  await expect(factor).toContainText('Off.');
});
