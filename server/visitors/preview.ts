import { compile, type CompiledRulebook } from '#core/engine/compile.ts';
import type { VisitorFacts } from '#core/model/subject.ts';
import { visitorOf } from '#core/model/audience.ts';
import { resolveAudiences } from './audiences.ts';
import type { PreviewClaims } from '#core/contract/rehearsalCalls.ts';
import type { Links } from '../http/links.ts';
import { rulesOf } from '../services/rulesOf.ts';
import type { Services } from '../services/services.ts';

const PURPOSE = 'preview';
const LIFE_MS = 24 * 60 * 60 * 1000;

/** Fragment of the shop's address that makes the storefront script show a preview. */
export const PREVIEW_HASH = 'understudy-preview';

/** Signs a token that shows the shop's pages by other rules, for a visitor and a moment, and permits nothing else; valid for a day. */
export async function previewToken(
  links: Links,
  claims: PreviewClaims & { readonly zone: string },
  now: number,
): Promise<{ token: string; until: Date }> {
  const until = now + LIFE_MS;
  return { token: await links.sign(PURPOSE, until, { ...claims }), until: new Date(until) };
}

export interface Preview {
  readonly rulebook: CompiledRulebook;
  readonly visitor: VisitorFacts;
  /** Epoch ms; null as the time goes. */
  readonly moment: number | null;
}

/** Reads a preview's token; null for any other. */
export async function previewOf(
  services: Pick<Services, 'db' | 'live' | 'links'>,
  token: string | null | undefined,
): Promise<Preview | null> {
  if (!token) return null;
  const claims = (await services.links.read(PURPOSE, token)) as PreviewClaims | null;
  if (!claims) return null;
  const { rulebook: current, sellers } = services.live.current();
  const rulebook = compile(await rulesOf(services, claims.source), current.shop, sellers);
  const [audience] = await resolveAudiences(services.db, [claims.audience]);
  return {
    rulebook,
    visitor: visitorOf(audience ?? claims.audience),
    moment: claims.at === null ? null : Date.parse(claims.at),
  };
}
