import { isRule } from '#core/rulebook/entries.ts';
import { Button, Skeleton } from '@mui/material';
import { lazy, Suspense, useMemo, useState } from 'react';
import { Link, matchPath, Navigate, Outlet, useLocation, useNavigate, useSearchParams } from 'react-router';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { beyondAllowance } from '#core/rulebook/sellers.ts';
import { beyondWords } from '#core/rulebook/sentence.ts';
import { DraftProvider } from '../draft/DraftProvider.tsx';
import { SavingNote } from '../draft/SavingNote.tsx';
import { useChanges, useDraft, useDraftPart } from '../draft/useDraft.ts';
import { WhoseContext } from '../goods/whose.ts';
import frame from '../frame/Frame.module.css';
import { LookingAt } from '../frame/LookingAt.tsx';
import { SELLER_GROUPS } from '../frame/screens.ts';
import { ScreenLinks } from '../frame/SideNav.tsx';
import { namesFrom, useGoods } from '../goods/useGoods.ts';
import { RuleSheet } from '../rules/RuleSheet.tsx';
import rules from '../rules/rules.module.css';
import { RunningOrder } from '../rules/RunningOrder.tsx';
import { termsWords } from '../sellers/words.ts';
import { useSession, useSignOut } from '../session/useSession.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { Mark } from '../shared/Mark.tsx';
import { momentWords } from '../shared/times.ts';
import { withMoment } from '../shared/useMoment.ts';
import { SellerProducts } from './SellerProducts.tsx';
import { SellerProof } from './SellerProof.tsx';
import styles from './selling.module.css';
import { usePublishSelling, useSelling, useTakeBack } from './useSelling.ts';

const YouPage = lazy(async () => ({ default: (await import('../settings/YouPage.tsx')).YouPage }));

/** The seller's application: rules for their own products, and nothing of others. */
export function SellingApp() {
  const selling = useSelling();
  const id = selling.data?.id;
  // Stays the same object while the allowance does not change, since answers share unchanged parts.
  const allowed = selling.data?.allowed;
  const whose = useMemo(
    () => ({ seller: id === undefined || allowed === undefined ? null : { id, allowed } }),
    [id, allowed],
  );
  if (selling.error) return <LoadFailed error={selling.error} retry={() => void selling.refetch()} />;
  if (!whose.seller) return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;
  return (
    <WhoseContext value={whose}>
      <DraftProvider>
        <div className={frame.frame}>
          <TopBar />
          <Nav />
          <div className={frame.screen}>
            <Screen />
          </div>
        </div>
      </DraftProvider>
    </WhoseContext>
  );
}

/** Shop screens that sellers use too; the server limits them to the seller's own. */
const SHARED: readonly string[] = ['/waitlists', '/preorders', '/quotes', '/enquiries', '/messages'];

function Screen() {
  const { pathname } = useLocation();
  if (SHARED.includes(pathname)) return <Outlet />;
  if (pathname === '/catalog') return <SellerProducts />;
  if (pathname === '/settings/you')
    return (
      <Suspense>
        <YouPage />
      </Suspense>
    );
  if (!pathname.startsWith('/rules')) return <Navigate to="/rules" replace />;
  return (
    <div className={styles.rules}>
      <PublishingStatus />
      <Rules />
    </div>
  );
}

function Nav() {
  const waits = useSelling().data?.waits;
  const rules = useDraftPart(({ history }) => history?.now.rules.length);
  return (
    <ScreenLinks
      groups={SELLER_GROUPS}
      counts={{
        '/rules': rules,
        '/waitlists': waits?.invitations,
        '/preorders': waits?.allocations,
        '/quotes': waits?.quotes,
        '/enquiries': waits?.enquiries,
        '/messages': waits?.messages,
      }}
    />
  );
}

function TopBar() {
  const selling = useSelling();
  const goods = useGoods();
  const session = useSession();
  const signOut = useSignOut();
  const [search] = useSearchParams();
  return (
    <header className={frame.band}>
      <Link className={frame.name} to={withMoment('/rules', search)}>
        <Mark /> Understudy
      </Link>
      <span className={frame.shop}>
        {selling.data?.name}
        {goods.data && `, at ${goods.data.shop.name}`}
      </span>
      <span className={frame.space} />
      {goods.data && <LookingAt zone={goods.data.shop.zone} />}
      <Link className={`${frame.pill} ${frame.looking}`} to="/settings/you">
        {session.data?.user?.name}
      </Link>
      <button
        type="button"
        className={`${frame.pill} ${frame.looking}`}
        onClick={() => {
          signOut.mutate();
        }}
      >
        Sign out
      </button>
    </header>
  );
}

/** Publishing status of the seller's rules, and the allowance. */
function PublishingStatus() {
  const selling = useSelling().data;
  const goods = useGoods();
  const changes = useChanges();
  const publish = usePublishSelling();
  const withdraw = useTakeBack();
  if (!selling || !goods.data || !changes) return <div className={styles.standing} />;
  const { zone } = goods.data.shop;
  const { asked, refusal, publishing, isRead, allowed, rules: live } = selling;
  const withoutEffect = beyondWords(beyondAllowance(live, allowed), namesFrom(goods.data));
  const counted = changes.length === 1 ? '1 change is' : `${changes.length} changes are`;
  const error = publish.error ?? withdraw.error;
  return (
    <section className={styles.standing} aria-label="What is live of your rules">
      <div>
        <p>
          <b>{live.length === 1 ? '1 rule of yours is live' : `${live.length} rules of yours are live`}</b>
          {changes.length > 0 && !asked && `; ${counted} not.`}
          {asked && `; your request of ${momentWords(Date.parse(asked.at), zone)} awaits the shop’s approval.`}
        </p>
        {!isRead && <p>The shop does not let sellers decide at present: your rules have no effect until then.</p>}
        {withoutEffect.length > 0 && (
          <p role="status">The shop no longer lets you decide this, so it has no effect. {withoutEffect.join('; ')}.</p>
        )}
        {refusal !== null && !asked && <p role="status">The shop said no{refusal === '' ? '.' : `: “${refusal}”`}</p>}
        <p className={styles.terms}>{termsWords(selling, 'seller')}</p>
        {error && <ErrorNote error={error} />}
      </div>
      <div className={styles.acts}>
        {asked && (
          <Button
            loading={withdraw.isPending}
            onClick={() => {
              withdraw.mutate();
            }}
          >
            Take it back
          </Button>
        )}
        <Button
          variant="contained"
          disabled={changes.length === 0 || (asked?.isDraft ?? false)}
          loading={publish.isPending}
          onClick={() => {
            publish.mutate();
          }}
        >
          {publishing === 'atOnce' ? 'Publish' : asked ? 'Ask for this instead' : 'Ask to publish'}
        </Button>
      </div>
    </section>
  );
}

function Rules() {
  const draft = useDraft();
  const goods = useGoods();
  const { pathname } = useLocation();
  const [search] = useSearchParams();
  const navigate = useNavigate();
  const [dragged, setDragged] = useState<Rulebook | null>(null);
  const error = draft.error ?? goods.error;
  if (error) return <LoadFailed error={error} retry={draft.reload} />;
  if (!draft.rulebook || !goods.data) return <Skeleton variant="rounded" height={320} sx={{ m: 4 }} />;
  const named = matchPath('/rules/:id', pathname)?.params.id;
  const own = draft.rulebook.rules.filter(isRule);
  const rule = own.find(({ id }) => id === named) ?? own[0];
  const shown = dragged ?? draft.rulebook;
  return (
    <main className={rules.page}>
      <RunningOrder
        rulebook={draft.rulebook}
        goods={goods.data}
        chosenId={rule?.id}
        onChoose={(id) => void navigate(withMoment(`/rules/${encodeURIComponent(id)}`, search))}
        onDrag={setDragged}
      />
      <div className={rules.sheet}>
        <SavingNote />
        {rule ? (
          <RuleSheet
            key={rule.id}
            rule={rule}
            rulebook={shown}
            goods={goods.data}
            proof={<SellerProof rule={rule} rulebook={shown} goods={goods.data} />}
          />
        ) : (
          <div className={rules.empty}>
            <h1>No rules yet</h1>
            <p>
              Your {goods.data.total} products are sold as the shop has it. Make a rule about some or all of them with{' '}
              <b>New rule</b>, beside the running order.
            </p>
            {draft.undo && (
              <Button variant="outlined" onClick={draft.undo}>
                Undo
              </Button>
            )}
          </div>
        )}
      </div>
    </main>
  );
}
