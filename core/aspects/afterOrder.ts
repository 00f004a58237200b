import { z } from 'zod';
import { outcome } from '../controls/telling.ts';
import { textWords } from '../facts/wording.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { html } from '../texts/textRenderers.ts';
import { alikeOr, defineAspect, Html } from './aspect.ts';

/** Text shown after the order. */
export const afterOrder = defineAspect({
  schema: z.strictObject({ text: LocalisedText }),
  decided: z.strictObject({ html: Html }).nullable(),
  comesWithControl: true,
  follows: 'unitsLeft',
  prepare: ({ text }, shop) => html(text, shop),
  resolve: (render, { subject, left }) => (render ? { html: render(subject, left) } : null),
  join: (all) => alikeOr(all, null),
  name: 'the text after the order',
  shortName: 'the text after the order',
  phrases: ({ text }, names) => [outcome(`after the order, say ${textWords(text, names)}`, '/then/afterOrder')],
});
