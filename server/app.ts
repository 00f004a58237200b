import compression from 'compression';
import connectPgSimple from 'connect-pg-simple';
import express, { type Express } from 'express';
import session from 'express-session';
import type { Pool } from 'pg';
import { CALLS } from '#core/contract/calls.ts';
import { attentionRoutes } from './attention/attentionRoutes.ts';
import { ownFactsRoutes } from './products/ownFactsRoutes.ts';
import { productRoutes } from './products/productRoutes.ts';
import { docsRoutes } from './docs/docsRoutes.ts';
import { channelRoutes } from './messages/channelRoutes.ts';
import { messageRoutes } from './messages/messageRoutes.ts';
import { enquiryRoutes } from './enquiries/enquiryRoutes.ts';
import { formRoutes } from './forms/formRoutes.ts';
import { quotePage } from './quotes/quotePage.ts';
import { quoteRoutes } from './quotes/quoteRoutes.ts';
import { Endpoints } from './http/endpoints.ts';
import { requestLog } from './http/requestLog.ts';
import { securityHeaders } from './http/securityHeaders.ts';
import { staffOnly } from './session/access.ts';
import { noSuchAddress, toProblem } from './problems.ts';
import { shopOnly } from './http/shopToken.ts';
import { feedRoutes } from './imports/feedRoutes.ts';
import { importRoutes } from './imports/importRoutes.ts';
import { pageMapRoutes } from './pageMap/pageMapRoutes.ts';
import { pickerRoutes } from './pageMap/pickerRoutes.ts';
import { pickerOnly } from './pageMap/pickerToken.ts';
import { peopleRoutes } from './people/peopleRoutes.ts';
import { orderRoutes, preorderRoutes } from './preorders/preorderRoutes.ts';
import { spotCheckRoutes } from './spotChecks/spotCheckRoutes.ts';
import { calendarFeed } from './rehearsal/calendarFeed.ts';
import { rehearsalRoutes } from './rehearsal/rehearsalRoutes.ts';
import { rulebookRoutes } from './rulebook/rulebookRoutes.ts';
import { colleagueRoutes } from './session/colleagueRoutes.ts';
import { recorderOf } from './session/recorder.ts';
import { keyRoutes } from './session/keyRoutes.ts';
import { sessionRoutes } from './session/sessionRoutes.ts';
import type { AllServices } from './allServices.ts';
import { textRoutes } from './shop/textRoutes.ts';
import { secretRoutes } from './shop/secretRoutes.ts';
import { recordRoutes } from './shop/recordRoutes.ts';
import { firstStepsRoutes } from './shop/firstSteps.ts';
import { shopSettingsRoutes } from './shop/shopSettings.ts';
import { audienceRoutes } from './visitors/audienceRoutes.ts';
import { shopRoutes } from './shop/shopRoutes.ts';
import { sellingRoutes } from './sellers/sellingRoutes.ts';
import { sellerRoutes } from './sellers/sellerRoutes.ts';
import { eventRoutes, insightRoutes } from './insights/insightRoutes.ts';
import { askPage } from './storefront/askPage.ts';
import { embedRoute } from './storefront/embedRoute.ts';
import { anyShop, storefrontRoutes } from './storefront/storefrontRoutes.ts';
import { joinRoutes, waitlistRoutes } from './waitlists/waitlistRoutes.ts';
import { waitlistPages } from './waitlists/waitlistPages.ts';
import { PAGES_CSS } from './pages/page.ts';
import { webRoutes } from './webRoutes.ts';

/**
 * The whole application on one screen.
 * @throws {Error} when a route has no rule of access, or a call of the contract is not mounted
 */
export function createApp(services: AllServices): Express {
  const { db, log, config, clock, live } = services;
  // Shoppers' reads and orders have separate connections.
  const shopper: AllServices = { ...services, db: services.shopperDb };
  const order: AllServices = { ...services, db: services.orderDb };
  const app = express();
  app.disable('x-powered-by');
  app.enable('case sensitive routing');
  app.enable('strict routing');
  app.set('trust proxy', config.trustProxy);
  app.set('query parser', 'simple');

  const endpoints = new Endpoints(
    app,
    {
      public: (_request, _response, next) => {
        next();
      },
      ...staffOnly(services),
      shop: shopOnly(() => live.current().visitorSecrets, clock),
      picker: pickerOnly(services.links),
    },
    recorderOf(services),
  );
  endpoints.mount('get', '/health', 'public', (_request, response) => void response.json({ status: 'alive' }));
  endpoints.mount('get', '/ready', 'public', async (_request, response) => {
    const ready = await services.ready();
    response.status(ready ? 200 : 503).json({ status: ready ? 'ready' : 'not ready' });
  });

  app.use(requestLog(log));
  app.use(securityHeaders());
  app.use('/v1', anyShop);
  storefrontRoutes(endpoints, shopper);

  // Routes above send cached bodies, compressed already.
  app.use(compression());
  const PgSession = connectPgSimple(session);
  app.use(
    '/api',
    session({
      name: 'understudy.sid',
      secret: services.sessionSecret,
      store: new PgSession({
        // Do not wait for connections that do not answer.
        pool: Object.create(db.pool, { query: { value: db.query } }) as Pool,
        tableName: 'sessions',
        errorLog: (error) => {
          log.warn(error);
        },
      }),
      resave: false,
      saveUninitialized: false,
      cookie: { httpOnly: true, sameSite: 'lax', secure: 'auto', maxAge: 14 * 24 * 60 * 60 * 1000 },
    }),
  );

  shoppersRoutes(endpoints, services, { shopper, order });
  ownersRoutes(endpoints, services, { shopper, order });
  webRoutes(endpoints, services);

  endpoints.seal(CALLS);
  app.use(noSuchAddress);
  app.use(toProblem(log));
  return app;
}

/** Services with connections of their own: for shoppers' reads, and for orders. */
interface Apart {
  readonly shopper: AllServices;
  readonly order: AllServices;
}

/** Calls and pages for shops and their visitors. */
function shoppersRoutes(endpoints: Endpoints, services: AllServices, { shopper, order }: Apart): void {
  eventRoutes(endpoints, shopper);
  joinRoutes(endpoints, order);
  orderRoutes(endpoints, order);
  pickerRoutes(endpoints, shopper);
  embedRoute(endpoints, services);
  askPage(endpoints, order);
  endpoints.mount('get', '/pages.css', 'public', (_request, response) => void response.type('css').send(PAGES_CSS));
  waitlistPages(endpoints, order);
  quotePage(endpoints, order);
  docsRoutes(endpoints, services);
}

/** Calls for the owner, colleagues, sellers and programs. */
function ownersRoutes(endpoints: Endpoints, services: AllServices, { shopper, order }: Apart): void {
  sessionRoutes(endpoints, services);
  colleagueRoutes(endpoints, services);
  keyRoutes(endpoints, services);
  rulebookRoutes(endpoints, services);
  rehearsalRoutes(endpoints, services);
  sellerRoutes(endpoints, services);
  sellingRoutes(endpoints, services);
  calendarFeed(endpoints, services);
  spotCheckRoutes(endpoints, services);
  importRoutes(endpoints, services);
  feedRoutes(endpoints, services);
  productRoutes(endpoints, services, shopper);
  ownFactsRoutes(endpoints, services);
  peopleRoutes(endpoints, services, order);
  shopRoutes(endpoints, services);
  audienceRoutes(endpoints, services);
  shopSettingsRoutes(endpoints, services);
  firstStepsRoutes(endpoints, services);
  recordRoutes(endpoints, services);
  secretRoutes(endpoints, services);
  textRoutes(endpoints, services);
  waitlistRoutes(endpoints, services);
  formRoutes(endpoints, services, shopper);
  enquiryRoutes(endpoints, services, order);
  quoteRoutes(endpoints, services, order);
  preorderRoutes(endpoints, services);
  messageRoutes(endpoints, services);
  channelRoutes(endpoints, services);
  insightRoutes(endpoints, services);
  pageMapRoutes(endpoints, services);
  attentionRoutes(endpoints, services);
}
