import { DateTime } from 'luxon';
import { leavesOf } from '#core/rulebook/condition.ts';
import { isRule } from '#core/rulebook/entries.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { dayAhead, written } from '../support/dates.ts';
import { enterDate, expect, send, type Stage, test } from '../support/stage.ts';

test.use({ opensAt: null });

const rules = async (stage: Stage) =>
  ((await send(stage, 'GET', '/api/rulebook')) as { rules: { id: string; name?: string }[] }).rules;

test('a spot check is written phrase by phrase, let off, forgotten and kept after all', async ({ owner, stage }) => {
  await owner.goto(`${stage.understudy.url}/rehearsal`);
  const checks = owner.getByRole('region', { name: 'Spot checks' });
  await expect(checks).toContainText('No spot checks yet.');
  await checks.getByRole('button', { name: 'Write a spot check' }).click();
  const form = owner.getByRole('form', { name: 'A spot check' });
  await expect(form.getByRole('button', { name: 'Keep this spot check' })).toBeDisabled();
  await form.getByRole('combobox', { name: 'Who' }).click();
  await owner.getByRole('option', { name: 'Trade' }).click();
  await form.getByRole('combobox', { name: 'sees' }).click();
  await owner.getByRole('option', { name: 'a price on request' }).click();
  await form.getByRole('combobox', { name: 'for' }).fill('beech');
  await owner.getByRole('option', { name: /^Beech hedging, 40–60 cm/ }).click();
  await form.getByRole('button', { name: 'Keep this spot check' }).click();
  const sentence = 'Trade sees a price on request for Beech hedging, 40–60 cm on product pages, at any time.';
  await expect(checks).toContainText(`Holds. ${sentence}`);

  await checks.getByLabel('Must hold to publish').click();
  await expect(checks.getByLabel('Must hold to publish')).not.toBeChecked();
  await owner.reload();
  await expect(checks.getByLabel('Must hold to publish')).not.toBeChecked();
  await checks.getByRole('button', { name: `Delete: ${sentence}` }).click();
  await expect(checks).toContainText('No spot checks yet.');
  await checks.getByRole('button', { name: 'Undo' }).click();
  await expect(checks).toContainText(`Holds. ${sentence}`);
});

test('a finding leads to the case in which it shows, and a quick fix ends it, which can be undone', async ({
  owner,
  stage,
}) => {
  const [frost, ...others] = await rules(stage);
  const slip = {
    id: 'slip',
    name: 'A slip of the pen',
    on: true,
    when: { fact: 'product.tags', op: 'hasAny', value: ['ships-sprng'] },
    then: { express: 'hide' },
  };
  const book = { format: 'understudy-rulebook', version: 1, rules: [slip, frost, ...others] };
  await send(stage, 'PUT', '/api/rulebook', book);
  await owner.goto(`${stage.understudy.url}/rehearsal`);
  const findings = owner.getByRole('region', { name: /^Findings/ });
  const finding = findings.getByRole('listitem').filter({ hasText: 'A slip of the pen' });
  await expect(finding).toContainText('names the tag “ships-sprng”, which does not exist.');
  await finding.getByRole('button', { name: 'Change it to “ships-spring”' }).click();
  await expect(finding).toHaveCount(0);
  await owner.keyboard.press('Control+z');
  await expect(finding).toHaveCount(1);

  const stock = findings.getByRole('listitem').filter({ hasText: 'Grown on to order' });
  await stock.getByRole('link', { name: /^See Beech hedging/ }).click();
  await expect(owner.getByRole('dialog', { name: 'Why' })).toContainText('Grown on to order');
});

test('the time line moves every preview, from change to change', async ({ owner, stage }) => {
  await owner.goto(`${stage.understudy.url}/rehearsal`);
  const line = owner.getByRole('region', { name: 'Time line' });
  const next = line.getByRole('button', { name: 'The next change' });
  await expect(line).toContainText(/^.*Next: /);
  const first = (await line.textContent()) ?? '';
  await next.click();
  await expect(owner.getByRole('button', { name: /^Looking at: (?!now)/ })).toBeVisible();
  await expect(line).not.toHaveText(first);
  await line.getByRole('button', { name: 'The change before' }).click();
  await expect(owner.getByRole('button', { name: 'Looking at: now' })).toBeVisible();
  await owner.getByRole('button', { name: 'Both' }).click();
  await owner.reload();
  await expect(owner.getByRole('button', { name: 'Both' })).toHaveAttribute('aria-pressed', 'true');
});

test('an opening is moved, given the draft as it is now, and called off; editions are compared', async ({
  owner,
  stage,
}) => {
  await send(stage, 'POST', '/api/openings', { at: `${dayAhead(500)}T08:00:00Z`, note: 'May day' });
  const moved = dayAhead(900);
  const all = await rules(stage);
  await send(stage, 'PUT', '/api/rulebook', { format: 'understudy-rulebook', version: 1, rules: all.slice(1) });
  await owner.goto(`${stage.understudy.url}/editions`);
  const opening = owner.getByRole('region', { name: 'Scheduled to open' });
  await expect(opening).toContainText('May day');
  await expect(opening).toContainText('The draft has changed since');
  await opening.getByRole('button', { name: 'Open the draft instead' }).click();
  await expect(opening).not.toContainText('The draft has changed since');
  await opening.getByRole('button', { name: 'Another time' }).click();
  await enterDate(opening, /^Opens, /, `${moved}T09:30`);
  await opening.getByRole('button', { name: 'Move' }).click();
  await expect(opening).toContainText(`${written(moved)} 09:30`);
  const opened = owner.waitForEvent('popup');
  await opening.getByRole('button', { name: 'Open the shop' }).click();
  const shop = await opened;
  await expect(shop.getByRole('complementary', { name: 'Preview' })).toContainText(
    `By what is set to open, as Guest, on ${written(moved, 'long')}`,
  );
  await shop.close();
  await opening.getByRole('button', { name: 'Cancel the opening' }).click();
  await expect(opening).toHaveCount(0);

  await expect(owner.getByRole('heading', { name: 'What differs from edition 1' })).toBeVisible();
  await owner.getByRole('button', { name: 'See what that changes for shoppers' }).click();
  const impact = owner.getByRole('region', { name: 'What changes for shoppers' });
  await impact.getByLabel('Include scheduled changes').check();
  await expect(impact.getByRole('status')).toHaveText(
    /^72 of 72 variants change, now or at one of \d+ scheduled changes/,
  );
  await impact.getByRole('button', { name: /express pay/ }).click();
  const following = owner.waitForRequest((sent) => (sent.postDataJSON() as { skip?: number } | null)?.skip === 40);
  await impact.getByRole('button', { name: 'Show more' }).click();
  expect((await following).postDataJSON()).toHaveProperty('at');
  await expect(impact.getByRole('row')).toHaveCount(1 + 80);
  await owner.getByRole('combobox', { name: 'Compare with' }).click();
  await owner.getByRole('option', { name: 'compared with no rules' }).click();
  await expect(owner.getByRole('heading', { name: 'Its rules' })).toBeVisible();
  await owner.reload();
  await expect(owner.getByRole('heading', { name: 'Its rules' })).toBeVisible();
});

test('the calendar leads to each change, and its address can be made anew', async ({ owner, stage }) => {
  await owner.goto(`${stage.understudy.url}/calendar`);
  const lanes = owner.getByRole('region', { name: 'The rules’ times' });
  await expect(lanes.getByRole('img', { name: /^Frost closure: from / })).toBeVisible();
  const mine = owner.getByRole('region', { name: 'In your calendar' });
  const before = (await mine.getByRole('code').textContent()) ?? '';
  expect(before).toMatch(/\/calendar\/[\w-]{32}\.ics$/);
  await mine.getByRole('button', { name: 'Make a new address and end this one' }).click();
  await expect(mine.getByRole('code')).not.toHaveText(before);
  await owner.getByRole('link', { name: /Frost closure begins/ }).click();
  await expect(owner.getByRole('button', { name: /^Looking at: (?!now)/ })).toBeVisible();
  await expect(owner.getByRole('heading', { name: 'Rehearsal' })).toBeVisible();
});

for (const dressing of ['script', 'elements'] as const) {
  test.describe(dressing, () => {
    test.use({ dressing });
    test('a preview shows the draft, and nothing is bought there', async ({ shopper, stage }) => {
      const quiet = {
        id: 'quiet',
        on: true,
        when: { fact: 'product.tags', op: 'hasAny', value: ['ships-spring'] },
        then: { control: { kind: 'buy', label: 'Take one home' } },
        stopHere: true,
      };
      const book = { format: 'understudy-rulebook', version: 1, rules: [quiet, ...(await rules(stage))] };
      await send(stage, 'PUT', '/api/rulebook', book);
      const { address } = (await send(stage, 'POST', '/api/previews', {
        source: 'draft',
        audience: { name: 'Guest', signedIn: false, roles: [] },
        at: null,
        page: '/plants/paper-lantern',
      })) as { address: string };
      await shopper.goto(address);
      const strip = shopper.getByRole('complementary', { name: 'Preview' });
      await expect(strip).toContainText('By the draft, as Guest, now.');
      await shopper.getByRole('button', { name: 'Take one home' }).first().click();
      await expect(strip).toContainText('Nothing can be bought, reserved or joined in a preview.');
      await strip.getByRole('button', { name: 'End the preview' }).click();
      await expect(shopper.getByRole('button', { name: 'Reserve for spring' }).first()).toBeVisible();
      await shopper.goto(`${stage.shop.url}/basket`);
      await expect(shopper.getByText('Paper Lantern')).toHaveCount(0);
    });
  });
}

test('Today shows the shop as each audience sees it, and a press says why', async ({ owner, stage }) => {
  await owner.goto(`${stage.understudy.url}/today`);
  const shown = owner.getByRole('region', { name: 'What shoppers see now' });
  const seeds = shown.getByRole('row').filter({ hasText: 'Auricula seed' });
  await expect(seeds.getByRole('button', { name: /, Guest: Sign in to buy/ })).toBeVisible();
  await expect(seeds.getByRole('button', { name: /, Circle member: the shop’s own button/ })).toBeVisible();
  await seeds.getByRole('button', { name: /, Trade: / }).click();
  await expect(owner).toHaveURL(/\/rehearsal\?which=live/);
  await expect(owner.getByRole('dialog', { name: 'Why' })).toContainText('Society seed list');

  // Within the closure, wherever the demo's dates lie.
  const { rules: all } = (await send(stage, 'GET', '/api/rulebook')) as Rulebook;
  const [{ from = '' } = {}] = all.flatMap((rule) =>
    isRule(rule) && rule.id === 'frost-closure'
      ? leavesOf(rule.when).flatMap((leaf) => (leaf.fact === 'moment' && leaf.op === 'between' ? [leaf.value] : []))
      : [],
  );
  await owner.goto(
    `${stage.understudy.url}/today?at=${DateTime.fromISO(from).plus({ days: 2 }).toFormat("yyyy-MM-dd'T'HH:mm")}`,
  );
  const then = owner.getByRole('region', { name: 'What shoppers see then' });
  await expect(
    then.getByRole('button', { name: /, Guest: We send nothing while the ground is frozen/ }).first(),
  ).toBeVisible();
});
