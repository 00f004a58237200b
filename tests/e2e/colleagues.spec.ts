import { AxeBuilder } from '@axe-core/playwright';
import { TOTP } from 'otpauth';
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
  const { violations } = await new AxeBuilder({ page: owner }).analyze();
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html)])).toEqual([]);

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
  const { violations } = await new AxeBuilder({ page: owner }).analyze();
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html)])).toEqual([]);
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
  let pressed = '';
  page.on('response', (response) => {
    if (response.status() === 403) refused.push(`${pressed}: ${response.request().method()} ${response.url()}`);
  });
  for (const screen of SCREENS) {
    const open = async () => {
      await page.goto(stage.understudy.url + screen);
      await page.waitForLoadState('networkidle');
    };
    pressed = screen;
    await open();
    await expect(page.getByText('Something went wrong')).toHaveCount(0);
    const buttons = page.locator('main button:enabled, [role=dialog] button:enabled');
    const names = new Set<string>();
    for (let index = 0; index < (await buttons.count()); index += 1) {
      const button = buttons.nth(index);
      const name = ((await button.getAttribute('aria-label')) ?? (await button.textContent()) ?? '').trim();
      // One of each is enough, and what leads to another site is the shop's.
      const kind = name.replace(/[0-9]+/g, '').slice(0, 12);
      if (names.has(kind) || /^Open the|Export|Download/.test(name)) continue;
      names.add(kind);
      pressed = `${screen}, “${name}”`;
      await button.click({ timeout: 2000, noWaitAfter: true }).catch(() => undefined);
      await page.keyboard.press('Escape');
      if (!page.url().startsWith(stage.understudy.url + (screen.split('?')[0] ?? ''))) await open();
    }
    await page.waitForLoadState('networkidle');
  }
  expect(refused).toEqual([]);
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
  const { violations } = await new AxeBuilder({ page: owner }).analyze();
  expect(violations.map(({ id, nodes }) => [id, nodes.map(({ html }) => html)])).toEqual([]);
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
  await factor.getByRole('button', { name: 'Turn it off' }).click();
  await expect(factor).toContainText('Off.');
});
