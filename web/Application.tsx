import { lazy, Suspense } from 'react';
import { Frame } from './frame/Frame.tsx';
import { useSession } from './session/useSession.ts';

const SellingApp = lazy(async () => ({ default: (await import('./selling/SellingApp.tsx')).SellingApp }));

/** The shop's screens or a seller's, by who is signed in. */
export function Application() {
  const isSeller = useSession().data?.user?.role === 'seller';
  if (!isSeller) return <Frame />;
  return (
    <Suspense>
      <SellingApp />
    </Suspense>
  );
}
