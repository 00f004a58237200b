import { z } from 'zod';
import { outcome } from '../controls/telling.ts';
import { textWords } from '../facts/wording.ts';
import { NOTE_PLACE_NAMES, NOTE_PLACES } from '../model/notePlaces.ts';
import { LocalisedText } from '../texts/localisedTextSchema.ts';
import { html } from '../texts/textRenderers.ts';
import { commonTo, defineGatheredAspect, Html } from './aspect.ts';

export const MAX_NOTES = 20;

/** Texts around the control. */
export const notes = defineGatheredAspect({
  schema: z
    .array(z.strictObject({ place: z.enum(NOTE_PLACES), text: LocalisedText }))
    .min(1)
    .max(MAX_NOTES),
  decided: z.array(z.strictObject({ place: z.enum(NOTE_PLACES), html: Html })),
  comesWithControl: true,
  mayHangOnPage: true,
  follows: 'unitsLeft',
  prepare: (value, shop) =>
    value.map(({ place, text }) => ({
      place,
      render: html(text, shop),
      countsLeft: JSON.stringify(text).includes('preorder.left'),
    })),
  // No units are left to count without a pre-order.
  resolve: (winners, { subject, left }) =>
    winners.flatMap((notes) =>
      notes.flatMap(({ place, render, countsLeft }) =>
        countsLeft && left === null ? [] : [{ place, html: render(subject, left) }],
      ),
    ),
  join: commonTo,
  name: 'notes',
  shortName: 'notes',
  phrases: (value, names) =>
    value.map(({ place, text }, index) =>
      outcome(`${NOTE_PLACE_NAMES[place]}, say ${textWords(text, names)}`, `/then/notes/${index}`),
    ),
});
