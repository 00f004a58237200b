import { gzipSync } from 'node:zlib';
import { expect, readingTest as test } from '../support/stage.ts';

const read = async (address: string | URL) => (await fetch(address)).text();
const weight = (text: string, level = 6) => gzipSync(text, { level }).length;

test('what every page of a shop loads is small, its page map included', async ({ stage }) => {
  expect(weight(await read(`${stage.understudy.url}/embed.js`), 9)).toBeLessThanOrEqual(9 * 1024);
});

test('the owner’s first screen needs little script', async ({ stage }) => {
  const { url } = stage.understudy;
  const scripts = new Map<string, string>();
  /** Reads a script and all that it cannot start without. */
  const follow = async (address: URL): Promise<void> => {
    if (scripts.has(address.href)) return;
    scripts.set(address.href, '');
    const text = await read(address);
    scripts.set(address.href, text);
    const needed = text.matchAll(/(?:from|import)\s*"(\.\/[^"]+\.js)"/g);
    await Promise.all([...needed].map(([, path = '']) => follow(new URL(path, address))));
  };
  const [, main = ''] = /<script[^>]* src="([^"]+\.js)"/.exec(await read(`${url}/today`)) ?? [];
  await follow(new URL(main, url));
  const [today = ''] = /\.\/TodayPage-[\w-]+\.js/.exec([...scripts.values()].join('')) ?? [];
  await follow(new URL(today, new URL(main, url)));
  const sum = [...scripts.values()].reduce((all, text) => all + weight(text), 0);
  expect(sum).toBeGreaterThan(100_000);
  expect(sum).toBeLessThan(220_000);
});
