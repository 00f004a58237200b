import { expect, type Page, type Request } from '@playwright/test';

/** The address of every screen, and the heading by which it is known. */
export const SCREENS = [
  ['/today', 'Today'],
  ['/rehearsal', 'Rehearsal'],
  ['/calendar', 'Calendar'],
  ['/editions', 'Editions'],
  ['/review', 'Review the draft'],
  ['/connection', 'Connection'],
  ['/sellers', 'Sellers'],
  ['/text', 'The rulebook as text'],
  ['/people', 'People'],
  ['/people?person=c-06', 'Fenn Tully'],
  ['/waitlists', 'Waitlists'],
  ['/preorders', 'Pre-orders'],
  ['/quotes', 'Quotes'],
  ['/enquiries', 'Enquiries'],
  ['/messages', 'Messages'],
  ['/messages/words', 'Message templates'],
  ['/messages/settings', 'Design and channels'],
  ['/texts', 'Shop texts'],
  ['/forms', 'Forms'],
  ['/insights', 'Insights'],
  ['/insights/demand', 'Insights'],
  ['/insights/editions/4', 'Insights'],
  ['/settings/shop', 'Settings'],
  ['/settings/colleagues', 'Settings'],
  ['/settings/keys', 'Settings'],
  ['/settings/record', 'Settings'],
  ['/settings/you', 'Settings'],
  ['/catalog/paper-lantern', 'Dahlia ‘Paper Lantern’'],
  [`/catalog?where=${encodeURIComponent('{"fact":"stock.status","op":"in","value":["outOfStock"]}')}`, 'Catalog'],
] as const;

/** Opens a screen as a link does, without loading the application again. */
export const follow = (page: Page, address: string) =>
  page.evaluate((to) => {
    history.pushState(null, '', to);
    dispatchEvent(new PopStateEvent('popstate'));
  }, address);

/** Opens each screen in turn and hands it over once it has loaded everything that it shows. */
export async function onEachScreen(
  page: Page,
  screens: readonly (readonly [address: string, heading: string])[],
  visit: (address: string) => Promise<void>,
): Promise<void> {
  const underway = new Set<Request>();
  page.on('request', (request) => underway.add(request));
  page.on('requestfinished', (request) => underway.delete(request));
  page.on('requestfailed', (request) => underway.delete(request));
  for (const [address, heading] of screens) {
    await follow(page, address);
    await expect(page.getByRole('heading', { name: heading, exact: true }).first()).toBeVisible();
    // Two frames, after which React has sent its requests.
    await page.evaluate(() => new Promise((done) => requestAnimationFrame(() => requestAnimationFrame(done))));
    await expect.poll(() => underway.size).toBe(0);
    await expect(page.locator('[aria-busy=true], .MuiSkeleton-root')).toHaveCount(0);
    await visit(address);
  }
}
