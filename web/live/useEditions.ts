import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import type { Edition } from '#core/contract/rulebookCalls.ts';
import type { Rulebook } from '#core/rulebook/rulebook.ts';
import { send } from '../api/client.ts';
import { useSeller } from '../goods/whose.ts';
import { keys } from '../api/keys.ts';

const NO_RULES: Rulebook = { format: 'understudy-rulebook', version: 1, rules: [] };

/** The live edition, or no rules before the first. */
export interface LiveEdition {
  readonly edition: Edition | null;
  readonly rulebook: Rulebook;
}

async function readLive(): Promise<LiveEdition> {
  const { body } = await send('GET /api/editions', { query: { limit: 1 } });
  const [edition] = body.editions;
  if (!edition) return { edition: null, rulebook: NO_RULES };
  return { edition, rulebook: await readRulebook(edition.number) };
}

const readRulebook = async (number: number) =>
  (await send('GET /api/editions/{number}', { params: { number } })).body.rulebook;

/** A seller's own rules that count. */
async function readSellersLive(): Promise<LiveEdition> {
  const { rules } = (await send('GET /api/seller')).body;
  return { edition: null, rulebook: { ...NO_RULES, rules: [...rules] } };
}

/** Live version of the rules being edited. */
export function useLive() {
  const seller = useSeller();
  return useQuery({ queryKey: keys.live, queryFn: seller ? readSellersLive : readLive });
}

export const useEditions = () =>
  useQuery({
    queryKey: keys.editions,
    queryFn: async () => (await send('GET /api/editions', { query: { limit: 100 } })).body,
  });

/** An edition's rules; none for number 0. */
export const useEditionRules = (number: number) =>
  useQuery({
    queryKey: keys.edition(number),
    queryFn: () => (number === 0 ? NO_RULES : readRulebook(number)),
    staleTime: Infinity,
  });

/** Refetches the live edition and the lists afterwards. */
function useEditionChange<T, R>(mutationFn: (given: T) => Promise<R>, alsoDraft: boolean) {
  const client = useQueryClient();
  return useMutation({
    mutationFn,
    onSuccess: async () => {
      await client.invalidateQueries({ queryKey: keys.editions });
      if (alsoDraft) await client.invalidateQueries({ queryKey: keys.draft });
    },
  });
}

export const usePublish = () =>
  useEditionChange(
    async ({ note, ifMatch }: { note: string; ifMatch: string }) =>
      (await send('POST /api/editions', { body: note.trim() ? { note } : {}, ifMatch })).body,
    false,
  );

export const useRestore = () =>
  useEditionChange(
    async ({ number, to }: { number: number; to: 'live' | 'draft' }) =>
      (await send('POST /api/editions/{number}/restore', { params: { number }, body: { to } })).body,
    true,
  );
