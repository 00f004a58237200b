import { readFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { join } from 'node:path';
import { createShop } from './app.ts';
import { Understudy } from '../client/understudy.ts';
import { CardPayments } from './cardPayments.ts';
import { Catalog } from './catalog.ts';
import { dressingOf } from './dressings/dressings.ts';
import { readCustomers } from './people.ts';

const {
  SHOP_DATA,
  SHOP_PORT = '4601',
  SHOP_DRESSING = 'forms',
  UNDERSTUDY_URL = 'http://127.0.0.1:4600',
  PAYMENT_URL = 'http://127.0.0.1:4602',
} = process.env;
if (!SHOP_DATA)
  throw new Error('SHOP_DATA must name the folder with the shop’s catalog.csv, people.csv and connection.json');

const { visitorSecret } = JSON.parse(readFileSync(join(SHOP_DATA, 'connection.json'), 'utf8')) as {
  visitorSecret: string;
};
const site = `http://127.0.0.1:${SHOP_PORT}`;
const shop = createShop({
  catalog: Catalog.read(join(SHOP_DATA, 'catalog.csv')),
  customers: readCustomers(join(SHOP_DATA, 'people.csv')),
  understudy: new Understudy({ url: UNDERSTUDY_URL, visitorSecret }),
  understudyUrl: UNDERSTUDY_URL,
  dressing: dressingOf(SHOP_DRESSING),
  cards: new CardPayments(PAYMENT_URL, site),
  site,
});

const server = createServer(shop).listen(Number(SHOP_PORT), '127.0.0.1', () => {
  process.stdout.write(`The sample shop is serving on port ${SHOP_PORT}.\n`);
});
for (const end of ['SIGINT', 'SIGTERM', 'disconnect'] as const) {
  process.on(end, () => {
    server.close(() => process.exit(0));
    server.closeAllConnections();
  });
}
