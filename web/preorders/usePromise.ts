import type { PreorderGoods } from '#core/contract/preorderCalls.ts';
import { isRule } from '#core/rulebook/entries.ts';
import { send } from '../api/client.ts';
import { replaceRule } from '../draft/edits.ts';
import { useDraft } from '../draft/useDraft.ts';
import { useMay } from '../session/useMay.ts';

type Dates = PreorderGoods['ships'];

interface Promised {
  readonly now: Dates;
  /** @returns what became of it, as a sentence */
  readonly change: (dates: Dates) => Promise<string>;
}

/**
 * Reads the dates that new customers are promised and changes them where the user may: in the draft's rule, or else as the
 * product's own date, which has a beginning only. Null where nothing is promised.
 */
export function usePromise({ product, promise }: PreorderGoods): Promised | null {
  const { rulebook, change } = useDraft();
  const mayDraft = useMay('draft');
  const mayFacts = useMay('catalog');
  if (promise === null) return null;
  const { rule: id, ...now } = promise;
  if (id === null)
    return mayFacts
      ? {
          now,
          change: async ({ from, until }) => {
            const changes = { dates: { ships: from ?? until } };
            await send('POST /api/products/fact-changes', { body: { goods: { ids: [product] }, changes } });
            return 'New customers are promised it too.';
          },
        }
      : null;
  const rule = rulebook?.rules.find((entry) => isRule(entry) && entry.id === id);
  if (!mayDraft || !rulebook || !rule || !isRule(rule)) return null;
  return {
    now,
    change: ({ from, until }) => {
      const { control } = rule.then;
      const ships = { ...(from === null ? {} : { from }), ...(until === null ? {} : { until }) };
      const dated = { ...rule, then: { ...rule.then, control: { ...control, ships } } } as typeof rule;
      change(replaceRule(rulebook, dated));
      return Promise.resolve(`The draft’s rule “${rule.name ?? id}” promises it to new customers once you publish it.`);
    },
  };
}
