import { Button, TextField } from '@mui/material';
import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { useState } from 'react';

/** Up to this many rows are read faster than searched. */
export const FEW = 12;

/** One page of a list that the server pages by id, or by position where its items have none. */
export interface Page<T> {
  readonly items: readonly T[];
  readonly total: number;
  readonly more: boolean;
}

interface PagesOptions<T> {
  /** In ms. */
  readonly refetchInterval?: number;
  /** Reads items whether or not they fit the filters, so that one stays open when a change takes it off the list. */
  readonly readAny?: (after: string) => Promise<readonly T[]>;
}

/** A list read page by page; the previous one stays until the next has loaded. */
export function usePages<T extends object, P extends Page<T> = Page<T>>(
  queryKey: readonly unknown[],
  read: (after?: string) => Promise<P & Page<T>>,
  { refetchInterval, readAny = async (after) => (await read(after)).items }: PagesOptions<T> = {},
) {
  const pages = useInfiniteQuery({
    queryKey,
    initialPageParam: '',
    queryFn: ({ pageParam }) => read(pageParam === '' ? undefined : pageParam),
    getNextPageParam: ({ more }, pages) => (more ? cursorAfter(pages.flatMap(({ items }) => items)) : undefined),
    refetchInterval: refetchInterval ?? false,
    placeholderData: keepPreviousData,
  });
  return {
    queryKey,
    readAny,
    items: pages.data?.pages.flatMap(({ items }) => items) ?? [],
    first: pages.data?.pages[0],
    total: pages.data?.pages[0]?.total ?? 0,
    isPending: pages.isPending,
    error: pages.error,
    refetch: pages.refetch,
    more: pages.hasNextPage
      ? () => {
          void pages.fetchNextPage();
        }
      : null,
    isFetchingMore: pages.isFetchingNextPage,
  };
}

const cursorAfter = (items: readonly object[]): string => {
  const last = items.at(-1);
  return last && 'id' in last ? String(last.id) : String(items.length);
};

/** A list of which some pages were read. */
export type Pages<T = unknown> = Omit<ReturnType<typeof usePages>, 'items' | 'first' | 'readAny' | 'queryKey'> & {
  readonly items: readonly T[];
};

/** The same, with the means to read any other page. */
export interface ReadablePages<T> extends Pages<T> {
  readonly queryKey: readonly unknown[];
  readonly readAny: (after: string) => Promise<readonly T[]>;
}

/**
 * Finds the item that an address names in a list with the newest first, whichever page it is on.
 * @returns undefined while it is being read; null where the list does not have it
 */
export function useNamed<T extends { readonly id: string }>(
  { items, queryKey, readAny }: ReadablePages<T>,
  id: string | null,
): T | null | undefined {
  const known = items.find((item) => item.id === id);
  const isId = id !== null && /^[0-9]{1,15}$/.test(id);
  const named = useQuery({
    queryKey: [...queryKey, 'named', id],
    queryFn: async () => (await readAny(String(Number(id) + 1))).find((item) => item.id === id) ?? null,
    enabled: isId && !known,
  });
  return known ?? (isId ? (named.error ? null : named.data) : null);
}

/** Rows of a list that the server sends as a whole: more at once are slow to draw and to read. */
const ROWS = 50;

/** The first rows of a list that was read as a whole, and more on request. */
export function useFirstOf<T>(all: readonly T[]) {
  const [rows, setRows] = useState(ROWS);
  const more = () => {
    setRows(rows + ROWS);
  };
  return {
    items: all.slice(0, rows),
    total: all.length,
    more: all.length > rows ? more : null,
    isFetchingMore: false,
  };
}

interface MoreButtonProps {
  readonly pages: Pick<Pages, 'items' | 'total' | 'more' | 'isFetchingMore'>;
}

/** Button for the next page of a list, if there is one. */
export function MoreButton({ pages }: MoreButtonProps) {
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
