import type { Texts } from './words.ts';

/** In a shadow root, so that neither the page's styles nor ours reach where they should not; type and colours are the page's. */
const LOOKS = `
dialog { width: min(34rem, calc(100vw - 2rem)); box-sizing: border-box; padding: 1.4em 1.6em; border: 1px solid currentcolor; border-radius: var(--understudy-dialog-radius, 6px); color: var(--understudy-dialog-ink, CanvasText); background: var(--understudy-dialog-fill, Canvas); }
dialog::backdrop { background: rgb(0 0 0 / 40%); }
h2 { margin: 0 1.5em 0.6em 0; font: inherit; font-size: 1.25em; font-weight: 600; }
p { margin: 0 0 0.9em; }
label { display: block; margin-bottom: 0.8em; }
small { opacity: 0.75; font-size: 0.85em; }
input, textarea, select { display: block; box-sizing: border-box; width: 100%; margin-top: 0.2em; padding: 0.45em 0.6em; font: inherit; color: inherit; background: Field; border: 1px solid currentcolor; border-radius: 4px; }
button { font: inherit; padding: 0.5em 1.2em; border: 1px solid currentcolor; border-radius: 4px; color: var(--understudy-button-ink, Canvas); background: var(--understudy-button-fill, CanvasText); cursor: pointer; }
button[disabled] { opacity: 0.6; }
table { width: 100%; border-collapse: collapse; margin-bottom: 1em; }
td { padding: 0.3em 0.5em 0.3em 0; border-top: 1px solid color-mix(in srgb, currentcolor 25%, transparent); vertical-align: middle; }
td input { margin: 0; }
td select { width: auto; min-width: 100%; }
td.units { width: 5rem; }
iframe { display: block; width: 100%; height: 26rem; border: 0; background: Canvas; }
button.quiet { padding: 0.2em 0.5em; border: 0; color: inherit; background: none; text-decoration: underline; }
.close { position: absolute; inset-block-start: 0.9em; inset-inline-end: 0.9em; padding: 0.1em 0.5em; border: 0; color: inherit; background: none; font-size: 1.2em; }
:focus-visible { outline: 3px solid Highlight; outline-offset: 2px; }
[role='status']:empty { display: none; }
`;

export interface Opened {
  /** Its content. */
  readonly body: HTMLElement;
  /** Shows a message below the content, and announces it to screen readers. */
  readonly status: (words: string) => void;
  /** The same in safe HTML of ours. */
  readonly statusHtml: (html: string) => void;
  /** Changes the line that says what it is about. */
  readonly about: (words: string) => void;
  readonly close: () => void;
}

/** Colours of the page, and of the pressed control for the button; the shop's custom properties take precedence. */
function colours(host: HTMLElement, like: Element): void {
  const page = getComputedStyle(document.body);
  const button = getComputedStyle(like);
  const isSeen = (fill: string) => !/^(transparent|rgba\(.*, 0\))$/.test(fill);
  const given = getComputedStyle(document.documentElement);
  const set = (name: string, value: string) => {
    if (given.getPropertyValue(name) === '') host.style.setProperty(name, value);
  };
  if (isSeen(page.backgroundColor)) {
    set('--understudy-dialog-fill', page.backgroundColor);
    set('--understudy-dialog-ink', page.color);
  }
  if (isSeen(button.backgroundColor)) {
    set('--understudy-button-fill', button.backgroundColor);
    set('--understudy-button-ink', button.color);
  }
}

/** A host with a shadow root and our styles. */
function dress(host: HTMLElement, like: Element): ShadowRoot {
  host.setAttribute('data-understudy-dialog', '');
  colours(host, like);
  const root = host.shadowRoot ?? host.attachShadow({ mode: 'open' });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(LOOKS);
  root.adoptedStyleSheets = [sheet];
  return root;
}

/** Creates the body of a dialog or inline form, and its live region. */
function parts(close: () => void): Opened & { readonly line: HTMLElement; readonly subject: HTMLElement } {
  const body = document.createElement('div');
  const line = document.createElement('p');
  line.role = 'status';
  const subject = document.createElement('p');
  return {
    body,
    line,
    subject,
    about: (words) => {
      subject.textContent = words;
    },
    status: (words) => {
      line.textContent = words;
    },
    statusHtml: (html) => {
      line.innerHTML = html;
    },
    close,
  };
}

/**
 * Opens a dialog over the page; the keyboard goes into it, and back to where it was when it closes.
 * @param about the product that it is about
 * @param like the pressed control
 */
export function openDialog(
  title: string,
  { about, like, text }: { about: string; like: Element; text: Texts },
): Opened {
  const host = document.createElement('div');
  const root = dress(host, like);
  const dialog = document.createElement('dialog');
  dialog.dir = 'auto';
  dialog.setAttribute('aria-labelledby', 'title');
  const heading = element('h2', title);
  heading.id = 'title';
  const close = element('button', '×');
  close.type = 'button';
  close.className = 'close';
  close.ariaLabel = text('close');
  const opened = parts(() => {
    dialog.close();
  });
  opened.about(about);
  dialog.append(heading, close, opened.subject, opened.body, opened.line);
  root.append(dialog);
  document.body.append(host);
  close.addEventListener('click', opened.close);
  dialog.addEventListener('close', () => {
    host.remove();
  });
  dialog.showModal();
  return opened;
}

/** Opens on the page itself, in an element of ours. */
export function openInline(title: string, host: HTMLElement): Opened {
  const opened = parts(() => undefined);
  dress(host, host).replaceChildren(element('h2', title), opened.body, opened.line);
  return opened;
}

export function element<Tag extends keyof HTMLElementTagNameMap>(tag: Tag, text: string): HTMLElementTagNameMap[Tag] {
  const made = document.createElement(tag);
  made.textContent = text;
  return made;
}

export interface FieldHow {
  readonly kind?: 'text' | 'longText' | 'number' | 'choice' | 'date' | 'email';
  readonly required?: boolean;
  readonly autocomplete?: AutoFill;
  readonly hint?: string;
  readonly choices?: readonly string[] | undefined;
  readonly value?: string | undefined;
}

/** A field with its label. */
export function field(
  label: string,
  name: string,
  { kind = 'text', required = false, autocomplete = '', hint, choices = [], value }: FieldHow,
): HTMLLabelElement {
  const made = element('label', label);
  if (hint) made.append(' ', element('small', hint));
  const input = document.createElement(kind === 'longText' ? 'textarea' : kind === 'choice' ? 'select' : 'input');
  input.name = name;
  input.required = required;
  input.autocomplete = autocomplete;
  if (input instanceof HTMLInputElement) {
    input.type = kind;
    input.maxLength = 200;
  } else if (input instanceof HTMLSelectElement) {
    for (const choice of required ? choices : ['', ...choices]) input.add(new Option(choice));
  } else input.rows = 4;
  if (value !== undefined) input.value = value;
  made.append(input);
  return made;
}
