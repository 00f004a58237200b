import { Button, TextField } from '@mui/material';
import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';

/** One page of a list that the server pages by id. */
export interface Page<T> {
  readonly items: readonly T[];
  readonly total: number;
  readonly more: boolean;
}

/** A list read page by page; what was there stays until what is asked for now has come. */
export function usePages<T extends { readonly id: string }>(
  queryKey: readonly unknown[],
  read: (after: string) => Promise<Page<T>>,
) {
  const pages = useInfiniteQuery({
    queryKey,
    initialPageParam: '',
    queryFn: ({ pageParam }) => read(pageParam === '' ? '' : `&after=${encodeURIComponent(pageParam)}`),
    getNextPageParam: ({ items, more }) => (more ? items.at(-1)?.id : undefined),
    placeholderData: keepPreviousData,
  });
  return {
    items: pages.data?.pages.flatMap(({ items }) => items) ?? [],
    total: pages.data?.pages[0]?.total ?? 0,
    isPending: pages.isPending,
    error: pages.error,
    refetch: pages.refetch,
    more: pages.hasNextPage ? () => void pages.fetchNextPage() : null,
    isFetchingMore: pages.isFetchingNextPage,
  };
}

/** Goes on with a list, where there is more of it. */
export function MoreButton({
  pages,
}: {
  readonly pages: Omit<ReturnType<typeof usePages>, 'items'> & { readonly items: readonly unknown[] };
}) {
  const { items, total, more, isFetchingMore } = pages;
  return (
    more && (
      <Button variant="outlined" disabled={isFetchingMore} onClick={more}>
        {isFetchingMore ? 'Looking…' : `Show more (${items.length} of ${total})`}
      </Button>
    )
  );
}

interface FindFieldProps {
  readonly className: string | undefined;
  readonly label: string;
  readonly placeholder: string;
  readonly search: URLSearchParams;
  readonly set: (name: string, value: string | null) => void;
}

/** Finds by words, which the address holds. */
export function FindField({ className, label, placeholder, search, set }: FindFieldProps) {
  return (
    <TextField
      className={className ?? ''}
      placeholder={placeholder}
      defaultValue={search.get('search') ?? ''}
      slotProps={{ htmlInput: { 'aria-label': label } }}
      onChange={({ target }) => {
        set('search', target.value.trim());
      }}
    />
  );
}
