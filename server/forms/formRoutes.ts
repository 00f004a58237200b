import type { IRouter } from 'express';
import { getForm, putForm } from '#core/contract/askingCalls.ts';
import { wordsIn } from '#core/texts/locale.ts';
import { notFound } from '../errors.ts';
import { whoIs } from '../http/identity.ts';
import { reply, route } from '../http/route.ts';
import type { Services } from '../services.ts';
import { readForm, writeForm } from './formQueries.ts';

export function formRoutes(shopCalls: IRouter, ownerCalls: IRouter, { db, live, clock }: Services): void {
  route(shopCalls, getForm, async ({ params: { code }, query: { locale } }) => {
    const fields = await readForm(db, code);
    if (!fields) throw notFound(`form ${code}`);
    const { locales } = live.current().rulebook.shop;
    const said = fields.map((field) => ({ ...field, label: wordsIn(field.label, locale ?? null, locales) }));
    return reply(200, { fields: said }, { 'Cache-Control': 'public, max-age=60' });
  });
  route(ownerCalls, putForm, async ({ params: { code }, body }, { request }) => {
    await writeForm(db, code, { fields: body, by: whoIs(request), at: new Date(clock()) });
    return reply(204, undefined);
  });
}
