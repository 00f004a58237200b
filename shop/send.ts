import type { Request, Response } from 'express';
import type { Shop } from './shop.ts';
import type { Html } from './html.ts';
import type { Style } from './pages/goods.ts';
import { layout } from './pages/layout.ts';
import { askHiddenPrices, type Shelves } from './understudy.ts';
import type { Visit } from './visits.ts';

/** Sends a page in the shop's frame; `at` is its path for the browser, if that differs from the request's. */
export type Send = (request: Request, response: Response, title: string, body: Html, at?: string) => Promise<void>;

export function sender({ understudy, understudyUrl, dressing, catalog }: Shop): Send {
  const ranges = catalog.below('');
  return (request, response, title, body, at) => {
    const visit = visitOf(response);
    const token = understudy.visitorToken(visit.customer && { id: visit.customer.id });
    const path = at ?? request.originalUrl;
    const context = {
      visit,
      token,
      understudyUrl,
      path,
      isElsewhere: at !== undefined,
      asset: dressing.asset,
      ranges,
    };
    // Not kept, but a page may come back as it was left: the script then looks again.
    response.set('Cache-Control', 'private, no-cache').send(layout(context, title, body));
    return Promise.resolve();
  };
}

export const visitOf = (response: Response) => response.locals.visit as Visit;

/** Style of pages for a visit, without the prices hidden from it. */
export async function styleOf(
  { understudy, dressing, site }: Shop,
  { path, response }: { path: string; response: Response },
  shelves: Shelves,
): Promise<Style> {
  const visit = visitOf(response);
  const isPriceHidden = await askHiddenPrices(understudy, { visit, page: path, shelves });
  return { dressing, site, language: visit.language, isPriceHidden };
}

const formOf = (request: Request) => (request.body ?? {}) as Record<string, unknown>;

/** The path of this shop that somebody came from; the first page when it is none. */
export const backOf = (path: unknown): string => (typeof path === 'string' && /^\/(?![/\\])/.test(path) ? path : '/');

/** A field of the form that was sent; empty when it is not there. */
export const field = (request: Request, name: string): string => fields(request, name)[0] ?? '';

/** All of a field that may be there several times. */
export const fields = (request: Request, name: string): string[] =>
  [formOf(request)[name] ?? []].flat().filter((value): value is string => typeof value === 'string');
