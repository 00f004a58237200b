import { allWordsOf, everything, parentOf, wordsOf } from '../deep.ts';
import { Money, unitIn, type Amount } from './money.ts';

/** Maximum length of a text that is mainly an amount. */
const SMALL = 40;

const PRESSABLE =
  'button, input[type=submit], input[type=button], input[type=image], a[href], a[onclick], [role=button], [role=link][tabindex], [onclick]:not(form, body)';

/** A snapshot of a page: visible elements with their positions and styles. */
export class PageView {
  readonly elements: readonly Element[];
  readonly money: Money;
  private readonly texts = new Map<Element, string>();
  private readonly styles = new Map<Element, CSSStyleDeclaration | null>();
  private readonly rects = new Map<Element, DOMRect>();

  constructor(
    readonly page: Document,
    readonly url: URL,
  ) {
    this.elements = [...everything(page)].filter((element) => !isUnseen(element));
    const languages = [page.documentElement.lang, ...navigator.languages].filter(isLanguage);
    const tags = [...new Set(languages)];
    const known = new Money(tags);
    const small = this.elements.filter((element) => element.textContent.length <= SMALL).map((one) => this.text(one));
    const isUnnamed = !small.some((text) => known.amountsIn(text).length > 0);
    this.money = isUnnamed ? new Money(tags, unitIn(small)) : known;
  }

  /** Elements that can be pressed, each the innermost with its text. */
  get pressables(): Element[] {
    return this.elements.filter((element) => element.matches(PRESSABLE) && !element.matches('[disabled][hidden]'));
  }

  /** Visible text of an element, including shadow roots, with blocks separated. */
  text(element: Element): string {
    return this.rawText(element).replace(/\s+/g, ' ').trim();
  }

  private rawText(element: Element): string {
    let text = this.texts.get(element);
    if (text === undefined) {
      const isPlain = element instanceof HTMLElement && element.shadowRoot === null;
      text = (isPlain && this.apart(element)) || allWordsOf(element);
      this.texts.set(element, text);
    }
    return text;
  }

  /** The visible text of an element, with spaces between blocks. */
  private apart(element: Element): string {
    let text = '';
    for (const node of element.childNodes) {
      if (node.nodeType === Node.TEXT_NODE) text += node.textContent ?? '';
      if (!(node instanceof Element) || node.matches('script, style, template, noscript, svg')) continue;
      const display = this.style(node)?.display ?? '';
      if (display === 'none') continue;
      const isApart = node.localName === 'br' || BLOCK.test(display);
      text += isApart ? ` ${this.rawText(node)} ` : this.rawText(node);
    }
    return text;
  }

  /** Name of an element: its label or text. */
  name(element: Element): string {
    const label = element.getAttribute('aria-label') ?? element.getAttribute('alt') ?? '';
    const said = element.matches('input') ? (element.getAttribute('value') ?? '') : this.text(element);
    return (label || said || element.querySelector('img[alt]')?.getAttribute('alt') || wordsOf(element)).trim();
  }

  amounts(element: Element): Amount[] {
    return this.money.amountsIn(this.text(element));
  }

  style(element: Element): CSSStyleDeclaration | null {
    let style = this.styles.get(element);
    if (style === undefined) {
      style = element.ownerDocument.defaultView?.getComputedStyle(element) ?? null;
      this.styles.set(element, style);
    }
    return style;
  }

  rect(element: Element): DOMRect {
    let rect = this.rects.get(element);
    if (rect === undefined) {
      rect = element.getBoundingClientRect();
      this.rects.set(element, rect);
    }
    return rect;
  }

  /** px² that it takes on the page. */
  size(element: Element): number {
    const { width, height } = this.rect(element);
    return width * height;
  }

  /** px between the middles of two elements. */
  distance(a: Element, b: Element): number {
    const [one, other] = [this.rect(a), this.rect(b)];
    return Math.hypot(
      one.left + one.width / 2 - other.left - other.width / 2,
      one.top + one.height / 2 - other.top - other.height / 2,
    );
  }

  /** px of room between two elements that stand one over the other; without end where they do not. */
  gap(a: Element, b: Element): number {
    const [one, other] = [this.rect(a), this.rect(b)];
    const isOver = one.left < other.right && other.left < one.right;
    const isRow = one.top < other.bottom && other.top < one.bottom;
    return isOver || isRow ? Math.max(0, one.top - other.bottom, other.top - one.bottom) : Infinity;
  }

  /** Whether it looks like a button: it has a background or a border. */
  isRaised(element: Element): boolean {
    const style = this.style(element);
    if (!style) return false;
    const around = parentOf(element);
    const ground = around ? this.style(around)?.backgroundColor : undefined;
    return (
      (!TRANSPARENT.test(style.backgroundColor) && style.backgroundColor !== ground) ||
      Number.parseFloat(style.borderTopWidth) > 0
    );
  }

  /** Whether it has a background colour. */
  isFilled(element: Element): boolean {
    const groundOf = (from: Element | null): string => {
      for (let at = from; at; at = parentOf(at)) {
        const colour = this.style(at)?.backgroundColor ?? '';
        if (colour !== '' && !TRANSPARENT.test(colour)) return colour;
      }
      return 'rgb(255, 255, 255)';
    };
    // The grey that browsers give to any button says nothing.
    return apartBy(groundOf(element), groundOf(parentOf(element))) > LEAST_APART;
  }

  isStruck(element: Element): boolean {
    for (let at: Element | null = element, far = 0; at && far < 4; at = parentOf(at), far += 1)
      if (at.matches('del, s, strike') || this.style(at)?.textDecorationLine.includes('line-through')) return true;
    return false;
  }
}

/** Of 255, between two colours. */
const LEAST_APART = 40;

function apartBy(a: string, b: string): number {
  const [one, other] = [a, b].map((colour) => (colour.match(/[\d.]+/g) ?? []).map(Number));
  return Math.max(0, ...[0, 1, 2].map((part) => Math.abs((one?.[part] ?? 0) - (other?.[part] ?? 0))));
}

const TRANSPARENT = /^(transparent|rgba\(0, 0, 0, 0\))$/;

export const isUnseen = (element: Element) =>
  element.closest('head, script, style, noscript, template, datalist') !== null ||
  element.hasAttribute('data-understudy-stand-in');

function isLanguage(tag: string): boolean {
  try {
    return tag !== '' && Intl.getCanonicalLocales(tag).length > 0;
  } catch {
    return false;
  }
}

const BLOCK = /^(block|flex|grid|table|list-item|table-cell|table-row|flow-root)$/;
