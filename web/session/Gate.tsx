import { lazy, Suspense, type ReactNode } from 'react';
import { LoadFailed } from '../shared/LoadFailed.tsx';
import { NotSetUp } from './NotSetUp.tsx';
import { useSession } from './useSession.ts';

const SignInPage = lazy(async () => ({ default: (await import('./SignInPage.tsx')).SignInPage }));

/** Shows the application to signed-in users, and sign-in to others. */
export function Gate({ children }: { readonly children: ReactNode }) {
  const session = useSession();
  if (session.isPending) return null;
  if (session.isError) return <LoadFailed error={session.error} retry={() => void session.refetch()} />;
  if (!session.data.setUp) return <NotSetUp />;
  if (session.data.user) return children;
  return (
    <Suspense>
      <SignInPage />
    </Suspense>
  );
}
