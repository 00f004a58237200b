import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapVersion } from '#core/contract/pageMapCalls.ts';
import { expect, pickerAddress, publishRules, send, test, type Stage } from '../support/stage.ts';
import { forProduct } from '../support/noted.ts';
import { forgetMaps } from '../support/pageMaps.ts';
import { OWNER_KEY } from '../support/programs.ts';
import { staticShop } from '../support/staticShop.ts';

/** Brings in goods of a shop all of whose product pages are one page, told apart by a number after its path. */
async function importGoods({ understudy }: Stage): Promise<void> {
  const rows = [
    'variant_id,product_id,path,title,price',
    'v4414,4414,/item?i=4414&shelf=2,Paper Lantern,14.50',
    'v4415,4415,/item?shelf=1&i=4415,Saffron Hill,6.00',
    'v4416,4416,/item?i=4416&shelf=2,Night Post,4.50',
  ];
  const answer = await fetch(`${understudy.url}/api/catalog/import`, {
    method: 'POST',
    headers: { Authorization: `Bearer ${OWNER_KEY}`, 'Content-Type': 'text/csv' },
    body: rows.join('\n'),
  });
  expect(await answer.json()).toMatchObject({ created: 3, refused: [] });
}

const card = (address: string, title: string, price: string) =>
  `<li class="tile"><a href="${address}"><h3>${title}</h3></a><p class="tag">${price}</p>
  <form action="/basket" method="post"><input type="hidden" name="v" value="v${address.slice(8, 12)}"><button>Add to basket</button></form></li>`;

const pages = (head: string): Record<string, string> => {
  const html = (main: string) =>
    `<!doctype html><html lang="en"><head><title>Shop</title>${head}</head><body><header><a href="/">Shop</a> <a href="/basket">Basket</a></header>${main}</body></html>`;
  return {
    '/item': html(`<main class="one"><h1>Paper Lantern</h1><p class="tag">€14.50</p>
      <form action="/basket" method="post"><input type="hidden" name="v" value="v4414"><button>Add to basket</button></form>
      <a href="/item?i=4414&shelf=2&print=1">Print</a></main>`),
    '/': html(
      `<ul>${card('/item?i=4414&shelf=2', 'Paper Lantern', '€14.50')}${card('/item?i=4415&from=home&shelf=1', 'Saffron Hill', '€6.00')}${card('/item?i=4416&shelf=2', 'Night Post', '€4.50')}</ul>`,
    ),
  };
};

test('products whose addresses differ by a parameter are brought in, mapped, and told apart on pages', async ({
  stage,
  browser,
}) => {
  await importGoods(stage);
  await forgetMaps(stage);
  const shop = await staticShop([]);
  const line = `<script src="${stage.understudy.url}/embed.js"></script>`;
  for (const [path, html] of Object.entries(pages(line))) shop.pages.set(path, html);
  const page = await (await browser.newContext()).newPage();

  await test.step('the first proposal names what tells them apart', async () => {
    await page.goto(await pickerAddress(stage, `${shop.url}/item?i=4414&shelf=2`));
    await expect(page.locator('.panel footer p').first()).toHaveText(/^Still needed: a card/);
    await page.goto(shop.url);
    await page.locator('#propose').click();
    await expect(page.locator('.panel footer p').first()).toHaveText(/^Saved in the draft/);
    const { draft } = (await send(stage, 'GET', '/api/page-map')) as { draft: MapVersion };
    expect(draft.map.productPage).toMatchObject({ parameters: ['i', 'shelf'] });
    await page.locator('#done').click();
  });
  await test.step('each has its own, on the listing and on its page', async () => {
    const { draft } = (await send(stage, 'GET', '/api/page-map')) as { draft: MapVersion };
    await send(stage, 'PUT', '/api/page-map', draft.map);
    await publishRules(stage, [
      forProduct('4414', { control: { kind: 'preorder', label: 'Order ahead' } }),
      forProduct('4415', { control: { kind: 'notice', text: 'Gone for this year' } }),
    ]);
    const shopper = await (await browser.newContext()).newPage();
    await shopper.goto(shop.url);
    await expect(shopper.locator('.tile').nth(0).getByRole('button')).toHaveText('Order ahead');
    await expect(shopper.locator('.tile').nth(1)).toContainText('Gone for this year');
    await expect(shopper.locator('.tile').nth(1).getByRole('button')).toHaveCount(0);
    await expect(shopper.locator('.tile').nth(2).getByRole('button')).toHaveText('Add to basket');
    await shopper.goto(`${shop.url}/item?utm_source=letter&shelf=2&i=4414`);
    await expect(shopper.getByRole('button')).toHaveText('Order ahead');
    await shopper.goto(`${shop.url}/item?i=4416&shelf=2`);
    await expect(shopper.getByRole('button')).toHaveText('Add to basket');
    const asked = shopper.waitForRequest(/\/v1\/decisions/);
    await shopper.goto(`${shop.url}/item?i=4414&shelf=2&who=olive`);
    // Other parts of an address are not sent.
    expect((await asked).url()).not.toContain('olive');
    await shopper.context().close();
  });
  await page.context().close();
  await shop.stop();
});

test('a size is chosen by pressing what has its number in an attribute of its own', async ({ stage, browser }) => {
  await forgetMaps(stage);
  const size = (id: string, words: string, more: string) =>
    `<button type="button" class="pill${more}" data-pick="paper-lantern-${id}">${words}</button>`;
  const html = `<!doctype html><html lang="en"><head><script src="${stage.understudy.url}/embed.js"></script></head>
    <body><main><h1>Dahlia ‘Paper Lantern’</h1><p class="sum">€5.50</p>
    <div class="pills">${size('1-tuber', 'One', ' lit')}${size('3-tubers', 'Three', '')}${size('5-tubers', 'Five', '')}</div>
    <button class="take">Add to basket</button></main>
    <script>for (const pill of document.querySelectorAll('.pill')) pill.onclick = () => {
      document.querySelector('.lit').classList.remove('lit'); pill.classList.add('lit');
    };</script></body></html>`;
  const shop = await staticShop([['/plants/paper-lantern', html]]);
  const page = await (await browser.newContext()).newPage();
  await page.goto(await pickerAddress(stage, `${shop.url}/plants/paper-lantern`));
  await expect(page.locator('.panel .part').filter({ hasText: 'The choice of size' })).toContainText('1 here');
  const map = await page.evaluate(() => sessionStorage.getItem('understudy-picker-draft'));
  const read = JSON.parse(map ?? '{}') as Partial<PageMap>;
  expect(read).toMatchObject({ variantAttribute: 'data-pick' });
  await page.locator('#done').click();
  await send(stage, 'PUT', '/api/page-map', { ...read, card: { area: '.none', link: 'a' } });
  await publishRules(stage, [
    {
      id: 'threes',
      on: true,
      when: { fact: 'variant.id', op: 'in', value: ['paper-lantern-3-tubers'] },
      then: { control: { kind: 'preorder', label: 'Order ahead' } },
    },
  ]);
  const shopper = await (await browser.newContext()).newPage();
  await shopper.goto(`${shop.url}/plants/paper-lantern`);
  await expect(shopper.locator('.take')).toHaveText('Add to basket');
  await shopper.getByRole('button', { name: 'Three' }).click();
  await expect(shopper.locator('.take')).toHaveText('Order ahead');
  await shopper.getByRole('button', { name: 'Five' }).click();
  await expect(shopper.locator('.take')).toHaveText('Add to basket');
  await shopper.context().close();
  await page.context().close();
  await shop.stop();
});
