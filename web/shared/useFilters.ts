import { useSearchParams } from 'react-router';

/** Parameters of the address, so that every view can be linked and reloaded. */
export function useFilters(): readonly [
  search: URLSearchParams,
  set: (name: string, value: string | null) => void,
  change: (values: Readonly<Record<string, string | null>>) => void,
] {
  const [search, setSearch] = useSearchParams();
  const change = (values: Readonly<Record<string, string | null>>) => {
    setSearch(
      (before) => {
        const next = new URLSearchParams(before);
        for (const [name, value] of Object.entries(values))
          if (value === null || value === '') next.delete(name);
          else next.set(name, value);
        return next;
      },
      { replace: true },
    );
  };
  const set = (name: string, value: string | null) => {
    change({ [name]: value });
  };
  return [search, set, change];
}

/** The part of an address's query that a call of the server takes. */
export const queryOf = <Name extends string>(
  search: URLSearchParams,
  names: readonly Name[],
): Readonly<Partial<Record<Name, string>>> =>
  Object.fromEntries(
    names.flatMap((name) => {
      const value = search.get(name);
      return value ? [[name, value]] : [];
    }),
  ) as Partial<Record<Name, string>>;

/** Query string of the given fields, without undefined ones. */
export const queryText = (fields: Readonly<Record<string, string | undefined>>): string =>
  new URLSearchParams(
    Object.entries(fields).filter((field): field is [string, string] => field[1] !== undefined),
  ).toString();

/** Reads a choice from the address; undefined if it is not an option. */
export const oneOf = <K extends string>(options: Readonly<Record<K, unknown>>, value: string | null): K | undefined =>
  (Object.keys(options) as K[]).find((option) => option === value);
