import { randomUUID } from 'node:crypto';
import compression from 'compression';
import connectPgSimple from 'connect-pg-simple';
import express, { type Express, Router } from 'express';
import session from 'express-session';
import helmet from 'helmet';
import { pinoHttp } from 'pino-http';
import { attentionRoutes } from './attention/attentionRoutes.ts';
import { catalogRoutes } from './catalog/catalogRoutes.ts';
import { docsRoutes } from './docs/docsRoutes.ts';
import { channelRoutes } from './messages/channelRoutes.ts';
import { messageRoutes } from './messages/messageRoutes.ts';
import { enquiryRoutes } from './enquiries/enquiryRoutes.ts';
import { formRoutes } from './forms/formRoutes.ts';
import { quotePage } from './quotes/quotePage.ts';
import { quoteRoutes } from './quotes/quoteRoutes.ts';
import { ownerOnly } from './http/identity.ts';
import { noSuchAddress, toProblem } from './http/problems.ts';
import { importRoutes } from './imports/importRoutes.ts';
import { pageMapRoutes } from './pageMap/pageMapRoutes.ts';
import { pickerRoutes } from './pageMap/pickerRoutes.ts';
import { peopleRoutes } from './people/peopleRoutes.ts';
import { orderRoutes, preorderRoutes } from './preorders/preorderRoutes.ts';
import { spotCheckRoutes } from './spotChecks/spotCheckRoutes.ts';
import { calendarFeed } from './rehearsal/calendarFeed.ts';
import { rehearsalRoutes } from './rehearsal/rehearsalRoutes.ts';
import { rulebookRoutes } from './rulebook/rulebookRoutes.ts';
import { sessionRoutes } from './session/sessionRoutes.ts';
import type { Services } from './services.ts';
import { shopRoutes } from './shop/shopRoutes.ts';
import { askPage } from './storefront/askPage.ts';
import { embedRoute } from './storefront/embedRoute.ts';
import { storefrontRoutes } from './storefront/storefrontRoutes.ts';
import { joinRoutes, waitlistRoutes } from './waitlists/waitlistRoutes.ts';
import { waitlistPages } from './waitlists/waitlistPages.ts';
import { PAGES_CSS } from './pages/page.ts';
import { webRoutes } from './webRoutes.ts';

/** The whole application on one screen. */
export function createApp(services: Services): Express {
  const { db, log, config } = services;
  const app = express();
  app.disable('x-powered-by');
  app.set('trust proxy', 'loopback');
  app.set('query parser', 'simple');

  app.get('/health', (_request, response) => void response.json({ status: 'alive' }));
  app.get('/ready', async (_request, response) => {
    const ready = await services.ready();
    response.status(ready ? 200 : 503).json({ status: ready ? 'ready' : 'not ready' });
  });

  app.use(pinoHttp({ logger: log, genReqId: () => randomUUID(), serializers: QUIET, quietReqLogger: true }));
  app.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          styleSrc: ["'self'"],
          fontSrc: ["'self'"],
          // Pictures of goods are wherever the shop has them.
          imgSrc: ["'self'", 'data:', 'https:', 'http:'],
          upgradeInsecureRequests: null,
        },
      },
      crossOriginOpenerPolicy: false,
      originAgentCluster: false,
    }),
  );
  app.use(compression());
  // Anybody may send to a shop's calls, so they take no more than a full cart or page needs.
  app.use('/v1', express.json({ limit: '1mb', strict: false }));
  app.use(express.json({ limit: '32mb', strict: false }));
  app.use(express.text({ limit: '128mb', type: ['text/csv', 'text/plain'] }));

  storefrontRoutes(app, services);
  joinRoutes(app, services);
  orderRoutes(app, services);
  pickerRoutes(app, services);
  embedRoute(app, services);
  askPage(app, services);
  app.get('/pages.css', (_request, response) => void response.type('css').send(PAGES_CSS));
  waitlistPages(app, services);
  quotePage(app, services);
  docsRoutes(app, services);

  const PgSession = connectPgSimple(session);
  app.use(
    '/api',
    session({
      name: 'understudy.sid',
      secret: services.sessionSecret,
      store: new PgSession({
        pool: db.pool,
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
  const ownerCalls = Router();
  const guarded = ownerOnly(config.ownerKey);
  sessionRoutes(app, ownerCalls, services);
  rulebookRoutes(ownerCalls, services);
  rehearsalRoutes(ownerCalls, services);
  calendarFeed(app, ownerCalls, services);
  spotCheckRoutes(ownerCalls, services);
  importRoutes(ownerCalls, services);
  catalogRoutes(app, ownerCalls, services);
  peopleRoutes(app, ownerCalls, services);
  shopRoutes(ownerCalls, services);
  waitlistRoutes(ownerCalls, services);
  formRoutes(app, ownerCalls, services);
  enquiryRoutes(app, ownerCalls, services);
  quoteRoutes(app, ownerCalls, services);
  preorderRoutes(ownerCalls, services);
  messageRoutes(ownerCalls, services);
  channelRoutes(ownerCalls, services);
  pageMapRoutes(ownerCalls, services);
  attentionRoutes(ownerCalls, services);
  app.use((request, response, next) => {
    if (request.path.startsWith('/api/')) guarded(request, response, next);
    else next();
  }, ownerCalls);

  webRoutes(app, services);
  app.use(noSuchAddress);
  app.use(toProblem);
  return app;
}

/** Logs say what was asked and what came of it, and nothing personal: no query, no headers, no addresses. */
const QUIET = {
  req: ({ id, method, url }: { id: string; method: string; url: string }) => ({
    id,
    method,
    path: url.replace(/\?.*$/s, ''),
  }),
  res: ({ statusCode }: { statusCode: number }) => ({ status: statusCode }),
};
