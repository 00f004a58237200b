import type { PreviewClaims } from '#core/contract/rehearsalCalls.ts';
import { keptToken, leave } from './kept.ts';
import { STAND_IN } from './marks.ts';
import { start } from './page.ts';
import { closest } from './roots.ts';
import type { Settings } from './settings.ts';

const NAME = 'understudy-preview';

/** Elements that act when pressed; links to other pages are followed. */
const PRESSED = `button, input[type=submit], input[type=image], [${STAND_IN}='control']`;

const LOOK = `
  :host { all: initial; position: fixed; inset: auto 0 0; z-index: 2147483647; }
  div { display: flex; flex-wrap: wrap; gap: 4px 16px; align-items: center; padding: 8px 16px; color: #23282b; background: #e9a23b; font: 14px/1.4 system-ui, sans-serif; }
  p { margin: 0; flex: 1 1 20em; }
  b { font-weight: 650; }
  button { font: inherit; font-weight: 600; padding: 4px 12px; border: 1px solid currentColor; border-radius: 4px; color: inherit; background: transparent; cursor: pointer; }
  button:focus-visible { outline: 2px solid #16323a; outline-offset: 2px; }
`;

/** `zone` is the shop's time zone. */
type Claims = PreviewClaims & { readonly exp: number; readonly zone?: string };

/**
 * Shows the page by other rules, as somebody, at some moment, as the owner's signed link says, and says so in a strip over
 * it. Nothing can be bought, reserved or joined from there.
 */
export function preview(settings: Settings): void {
  const come = comeWith();
  if (!come) {
    leave(NAME);
    return;
  }
  const claims = strip(come.claims);
  const refuse = (event: Event) => {
    const path = event.composedPath();
    const target = path.find((node) => node instanceof Element);
    if (!target || path.includes(claims.host)) return;
    if (event.type === 'click' && closest(target, PRESSED) === null) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    claims.show('Nothing can be bought, reserved or joined in a preview.');
  };
  for (const name of ['click', 'submit']) addEventListener(name, refuse, true);
  start(settings, { visitor: come.token, cart: undefined, invitations: [] });
}

/** The token of the preview and what it says; whether that is true is for the server to tell. Null when it is over. */
function comeWith(): { readonly token: string; readonly claims: Claims } | null {
  try {
    const token = keptToken(NAME);
    const found = token === null ? null : claims(token);
    return token !== null && found && found.exp * 1000 > Date.now() ? { token, claims: found } : null;
  } catch {
    return null;
  }
}

/** Reads a token's claims (JWT, RFC 7519). */
function claims(token: string): Claims {
  const text = atob((token.split('.')[1] ?? '').replaceAll('-', '+').replaceAll('_', '/'));
  const bytes = Uint8Array.from(text, (character) => character.charCodeAt(0));
  return JSON.parse(new TextDecoder().decode(bytes)) as Claims;
}

/** The strip that marks a preview. */
function strip({ source, audience, at, zone }: Claims): {
  readonly host: HTMLElement;
  readonly show: (words: string) => void;
} {
  const element = <K extends keyof HTMLElementTagNameMap>(tag: K, text = '') => {
    const made = document.createElement(tag);
    made.textContent = text;
    return made;
  };
  const host = element('aside');
  host.setAttribute('aria-label', 'Preview');
  const root = host.attachShadow({ mode: 'open' });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(LOOK);
  root.adoptedStyleSheets = [sheet];
  const rules =
    source === 'draft'
      ? 'the draft'
      : source === 'live'
        ? 'what is live'
        : 'opening' in source
          ? 'what is set to open'
          : `edition ${source.edition}`;
  const when =
    at === null
      ? 'now'
      : `on ${new Date(at).toLocaleString('en-GB', { dateStyle: 'long', timeStyle: 'short', timeZone: zone })}`;
  const [box, words] = [element('div'), element('p')];
  words.setAttribute('role', 'status');
  const rest = element('span', `By ${rules}, as ${audience.name}, ${when}. Nothing can be bought here.`);
  words.append(element('b', 'Preview. '), rest);
  const end = element('button', 'End the preview');
  end.onclick = () => {
    leave(NAME);
  };
  box.append(words, end);
  root.append(box);
  const put = () => {
    document.body.append(host);
  };
  if (document.body as HTMLElement | null) put();
  else document.addEventListener('DOMContentLoaded', put);
  return {
    host,
    show: (text) => {
      rest.textContent = text;
    },
  };
}
