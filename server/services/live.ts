import { isSellers } from '#core/rulebook/entries.ts';
import type { Logger } from 'pino';
import { compile, type CompiledRulebook } from '#core/engine/compile.ts';
import type { PageMap } from '#core/contract/pageMap.ts';
import { EMPTY_RULEBOOK } from '#core/rulebook/rulebook.ts';
import { liveSellers, type NamedSeller } from '../rules/sellerQueries.ts';
import type { Queryable } from '../db/database.ts';
import type { Watch } from '../db/watch.ts';
import type { LinkKey } from '../http/links.ts';
import { detailsOf } from '../shopData/shopDetails.ts';
import { linkKeys } from './linkKeys.ts';
import { notSetUp, shopFacts } from '../shopData/currentShop.ts';
import { readShop } from '../shopData/shopQueries.ts';
import { newestEdition } from '../rules/rulebookQueries.ts';

const CHANNEL = 'live';

/** The live state of the shop: compiled once, kept in memory, and replaced when any copy of the server announces a change. */
export interface Live {
  /** @throws {ProblemError} 503 before set-up */
  current(): LiveState;
  /** Rereads the live edition and settings. */
  refresh(): Promise<void>;
  /** Tells every copy, when the transaction that `client` is in commits. */
  announce(client: Queryable): Promise<void>;
  /** Calls back after each announced change was read. */
  onRead(listener: () => void): void;
  stop(): Promise<void>;
}

export interface LiveState {
  /** 0 before the first edition. */
  readonly edition: number;
  readonly rulebook: CompiledRulebook;
  /** The sellers, with those of their rules that count. */
  readonly sellers: readonly NamedSeller[];
  /** Whether the running order lets sellers decide. */
  readonly isSellersRead: boolean;
  /** Newest first: the first signs, all verify. */
  readonly visitorSecrets: readonly string[];
  /** The same of links. */
  readonly linkKeys: readonly LinkKey[];
  readonly pageMap: PageMap | null;
  /** How long pages keep their decisions during an outage of the database. */
  readonly outageMs: number;
}

export async function startLive(db: Queryable, watch: Watch, log: Logger): Promise<Live> {
  let state: LiveState | null = null;
  let reading = Promise.resolve();
  const listeners: (() => void)[] = [];

  const read = async () => {
    const [shop, edition, keys, sellers] = await Promise.all([
      readShop(db),
      newestEdition(db),
      linkKeys(db),
      liveSellers(db),
    ]);
    state = shop && {
      edition: edition?.number ?? 0,
      rulebook: compile(edition?.document ?? EMPTY_RULEBOOK, shopFacts(shop), sellers),
      sellers,
      isSellersRead: edition?.document.rules.some((entry) => isSellers(entry) && entry.on) ?? false,
      visitorSecrets: shop.visitorSecrets,
      linkKeys: keys,
      pageMap: shop.pageMap,
      outageMs: detailsOf(shop.details).outageMinutes * 60_000,
    };
  };
  /** One after the other, so that an older reading never overwrites a newer. */
  const refresh = () => (reading = reading.catch(() => undefined).then(read));
  const refreshAndNotify = async () => {
    await refresh();
    for (const listener of listeners) listener();
  };

  await watch.listen(CHANNEL, {
    connected: refreshAndNotify,
    notified: () => {
      refreshAndNotify().catch((error: unknown) => {
        log.error({ err: error }, 'what is live could not be read');
      });
    },
  });
  return {
    current() {
      if (!state) throw notSetUp();
      return state;
    },
    refresh,
    announce: async (client) => {
      await client.query(`NOTIFY ${CHANNEL}`);
    },
    onRead: (listener) => {
      listeners.push(listener);
    },
    stop: async () => {
      await reading.catch(() => undefined);
    },
  };
}
