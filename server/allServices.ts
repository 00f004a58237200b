import type { Services } from './services/services.ts';
import type { CatalogServices } from './catalog/productCache.ts';
import type { FeedServices } from './imports/feedRoutes.ts';
import type { ImportServices } from './imports/importService.ts';
import type { PageMapServices } from './pageMap/checkService.ts';
import type { RehearsalServices } from './rehearsal/rehearsalService.ts';
import type { VisitorServices } from './visitors/visitorCache.ts';
import type { RulebookServices } from './rulebook/rulebookService.ts';

/** Everything that a running server holds. */
export type AllServices = Services &
  CatalogServices &
  FeedServices &
  ImportServices &
  PageMapServices &
  RehearsalServices &
  RulebookServices &
  VisitorServices;
