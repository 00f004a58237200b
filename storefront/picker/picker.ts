import { h, render } from 'preact';
import type { PickerStart } from '#core/contract/pageMapCalls.ts';
import { parentOf, PICKER } from './deep.ts';
import { frame, type Framed } from './frames.ts';
import { Kept } from './kept.ts';
import { blink, Outline } from './lights.ts';
import { LOOK } from './look.ts';
import { Panel, type Acts } from './panel.tsx';
import type { View } from './view.ts';
import { meant, withLinks } from './meaning.ts';
import { joined } from './reading/join.ts';
import { foundOn, stillNeeded, withMethodCodes, type Part, hereIn } from './parts.ts';
import type { Proving } from './proof.tsx';
import { LateReading } from './lateReading.ts';
import { readPage } from './reading/readPage.ts';
import { VISIT_PAGES, type Draft, type PageKind, type Reading } from './reading/reading.ts';
import { hostsAround, type Proposal } from './selectors.ts';
import { leastStray, waysFor } from './ways.ts';

const MOST_FRAMES = 3;

/** Lays the picker over the page of the shop that the owner has opened. */
async function open(origin: string): Promise<void> {
  const kept = new Kept(origin);
  const start = await kept.start();
  if (document.readyState === 'loading')
    await new Promise((resolve) => {
      document.addEventListener('DOMContentLoaded', resolve);
    });
  const host = document.createElement('div');
  host.setAttribute(PICKER, '');
  // Open, so that it can be tested; the shop does not use it.
  const root = host.attachShadow({ mode: 'open' });
  const sheet = new CSSStyleSheet();
  sheet.replaceSync(LOOK);
  root.adoptedStyleSheets = [sheet];
  document.documentElement.append(host);
  new Picker(root, kept, start);
}

const onlyByHand = (event: Event): void => {
  if (event.isTrusted) return;
  event.preventDefault();
  event.stopImmediatePropagation();
};

class Picker {
  private map: Draft;
  private part: Part | null = null;
  private isPicking = false;
  private ways: readonly Proposal[] = [];
  private kept: View['kept'];
  private side: View['side'] = 'right';
  private readonly past: Draft[] = [];
  private over: Element | null = null;
  private proving: Proving | null = null;
  private frames: readonly Framed[] = [];
  private readonly outline: Outline;
  /** Host element of the panel. */
  private readonly place = document.createElement('div');
  private readonly away = document.createElement('div');
  private isDrawn = true;
  /** Reasons for the parts found on this page. */
  private why: Reading['why'] = {};
  private read: View['read'] = null;
  private seen: readonly PageKind[];
  private readonly reading = new LateReading({
    read: (before) => withMethodCodes(this.withThisPage(before), document),
    current: () => this.map,
    changed: (map) => {
      this.map = map;
      void this.keep();
      this.look();
    },
  });

  constructor(
    private readonly root: ShadowRoot,
    private readonly store: Kept,
    private readonly start: PickerStart,
  ) {
    const before = store.before();
    this.map = before ?? start.map ?? {};
    this.seen = store.seen([]);
    this.kept = { state: stillNeeded(this.map).length > 0 ? 'incomplete' : 'started' };
    this.outline = new Outline(root);
    this.away.className = 'away';
    this.away.ariaHidden = 'true';
    root.append(this.away, this.place);
    // Ignores presses by scripts of the page.
    for (const event of ['click', 'submit']) root.addEventListener(event, onlyByHand, { capture: true });
    const quietly = { capture: true };
    addEventListener('mousemove', this.hover, quietly);
    addEventListener('click', this.press, quietly);
    for (const event of ['pointerdown', 'mousedown', 'pointerup', 'mouseup', 'submit'])
      addEventListener(event, this.still, quietly);
    addEventListener('keydown', this.key, quietly);
    new MutationObserver(() => {
      this.drawSoon();
      this.reading.soon();
    }).observe(document.body, {
      childList: true,
      subtree: true,
      attributes: true,
      attributeFilter: ['open'],
    });
    // A page of a kind that was not read yet, while somebody goes from one to the next, is read at once.
    const isNew = before !== null && this.kindsHere().some((kind) => !this.seen.includes(kind));
    if (this.map.control === undefined || isNew) this.propose();
    else this.look();
  }

  private draw = (): void => {
    this.isDrawn = true;
    this.stayOnTop();
    const { map, part, isPicking, ways, kept, side, past, proving, why, read, seen } = this;
    const others = this.frames.map(({ path, page }) => ({ path, page: page() }));
    const canUndo = past.length > 0;
    const view: View = { map, open: part, isPicking, ways, kept, side, canUndo, others, proving, why, read, seen };
    render(h(Panel, { view, acts: this.acts }), this.place);
  };

  /** Moves into the newest modal dialog: nothing outside it can be pressed. */
  private stayOnTop(): void {
    const { host } = this.root;
    const place = [...document.querySelectorAll('dialog:modal')].at(-1) ?? document.documentElement;
    if (host.parentElement !== place) place.append(host);
  }

  private drawSoon = (): void => {
    if (!this.isDrawn) return;
    this.isDrawn = false;
    requestAnimationFrame(this.draw);
  };

  /** Loads the map's other pages out of sight, to count the matches of a selector there. */
  private look(): void {
    const paths = (this.map.pages ?? []).filter((path) => path !== hereIn(this.map)).slice(0, MOST_FRAMES);
    if (paths.join() !== this.frames.map(({ path }) => path).join()) {
      for (const { element } of this.frames) element.remove();
      this.frames = paths.map((path) => frame(path, this.drawSoon));
      this.away.append(...this.frames.map(({ element }) => element));
    }
    this.draw();
  }

  private open = (part: Part | null): void => {
    this.part = part;
    this.ways = [];
    this.proving = null;
    if (part) {
      const found = foundOn(document, location.pathname, this.map, part);
      const [first] = found;
      if (first) {
        this.ways = waysFor(first, part, this.map);
        blink(found);
      }
      this.isPicking = part.read(this.map) === undefined;
    } else this.isPicking = false;
    this.outline.around(null);
    this.draw();
    this.place.querySelector('li.open')?.scrollIntoView({ block: 'nearest' });
  };

  private pick = (): void => {
    this.isPicking = !this.isPicking;
    this.outline.around(null);
    this.draw();
  };

  /** Highlights the element under the pointer and the part that would be chosen. */
  private hover = (event: Event): void => {
    if (!this.isPicking || !this.part) return;
    const target = event.composedPath()[0];
    if (!(target instanceof Element) || this.isInPanel(event)) {
      this.outline.around(null);
      return;
    }
    this.over = meant(target, this.part, this.map);
    this.outline.around(this.over);
  };

  private isInPanel = (event: Event) => event.composedPath().includes(this.root);

  private press = (event: Event): void => {
    if (!event.isTrusted || !this.isPicking || !this.part || this.isInPanel(event)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
    const target = event.composedPath()[0];
    if (target instanceof Element) this.chosen(meant(target, this.part, this.map), this.part);
  };

  private chosen(element: Element, part: Part): void {
    this.isPicking = false;
    this.outline.around(null);
    this.ways = waysFor(element, part, this.map);
    const before = part.read(this.map);
    const isElsewhere = before !== undefined && foundOn(document, location.pathname, this.map, part).length === 0;
    if (isElsewhere) this.ways = leastStray(this.ways, part, this.map, this.frames);
    const [first] = this.ways;
    if (!first) {
      this.draw();
      return;
    }
    // Keeps the selector that matches on other pages.
    const selector = isElsewhere ? `${before}, ${first.selector}` : first.selector;
    const map = withLinks(part.write(this.map, selector), part, element);
    const hosts = [...new Set([...(this.map.shadowHosts?.split(/,\s*/) ?? []), ...hostsAround(element)])];
    this.change(hosts.length > 0 ? { ...map, shadowHosts: hosts.join(', ') } : map);
    blink(foundOn(document, location.pathname, this.map, part));
  }

  /** While picking, the page does nothing. */
  private still = (event: Event): void => {
    if (!this.isPicking || this.isInPanel(event)) return;
    event.preventDefault();
    event.stopImmediatePropagation();
  };

  private key = (event: KeyboardEvent): void => {
    if (event.key === 'Escape' && (this.isPicking || this.proving)) {
      this.isPicking = false;
      this.proving = null;
      this.outline.around(null);
      this.draw();
    } else if (this.isPicking && this.part && this.over && !this.isInPanel(event)) {
      const next =
        event.key === 'ArrowUp' ? parentOf(this.over) : event.key === 'ArrowDown' ? this.over.firstElementChild : null;
      if (event.key === 'Enter') this.chosen(this.over, this.part);
      else if (next) {
        this.over = next;
        this.outline.around(next);
      } else return;
    } else return;
    event.preventDefault();
    event.stopImmediatePropagation();
  };

  private choose = (selector: string | undefined): void => {
    if (!this.part) return;
    this.change(this.part.write(this.map, selector));
    if (selector !== undefined) blink(foundOn(document, location.pathname, this.map, this.part));
  };

  private propose = (): void => {
    const before = this.map;
    this.change(this.withThisPage(before));
    this.reading.begin(before, this.map);
  };

  private readHere = () => readPage(document, new URL(location.href), this.start);
  private kindsHere = () => this.readHere().kinds;

  /** Adds the findings of this page; existing choices stay. */
  private withThisPage = (map: Draft): Draft => {
    const { map: found, why, kinds } = this.readHere();
    this.why = why;
    this.read = { kinds, before: map };
    this.seen = this.store.seen(kinds);
    const next = joined(map, found, document);
    // Nobody has anything in a cart at night.
    const isVisit = kinds.some((kind) => VISIT_PAGES.has(kind));
    return isVisit ? next : { ...next, pages: [...new Set([...(map.pages ?? []), hereIn(next)])] };
  };

  private change(map: Draft): void {
    this.past.push(this.map);
    this.map = withMethodCodes(map, document);
    void this.keep();
    this.look();
  }

  private undo = (): void => {
    const before = this.past.pop();
    if (!before) return;
    this.map = before;
    void this.keep();
    this.look();
  };

  private async keep(): Promise<void> {
    this.kept = { state: 'saving' };
    const { map } = this;
    try {
      const isKept = await this.store.keep(map);
      if (map === this.map) this.kept = { state: isKept ? 'kept' : 'incomplete' };
    } catch (error) {
      this.kept = { state: 'failed', why: error instanceof Error ? error.message : 'Not saved.' };
    }
    this.draw();
  }

  private prove = (): void => {
    if (!this.part) return;
    this.proving = { part: this.part, map: this.map };
    blink(foundOn(document, location.pathname, this.map, this.part));
    this.draw();
  };

  private closeProof = (): void => {
    this.proving = null;
    this.draw();
  };

  private swap = (): void => {
    this.side = this.side === 'right' ? 'left' : 'right';
    this.draw();
  };

  private checkThisPage = (): void => {
    this.change({ ...this.map, pages: [...(this.map.pages ?? []), hereIn(this.map)] });
  };

  private done = (): void => {
    this.store.end();
    location.assign(this.start.owner);
  };

  private readonly acts: Acts = {
    open: this.open,
    pick: this.pick,
    choose: this.choose,
    propose: this.propose,
    prove: this.prove,
    closeProof: this.closeProof,
    undo: this.undo,
    swap: this.swap,
    checkThisPage: this.checkThisPage,
    done: this.done,
  };
}

const address = (document.currentScript as HTMLScriptElement | null)?.src;
if (address !== undefined) {
  open(new URL(address).origin).catch((error: unknown) => {
    // The picker cannot start: say so where its owner looks.
    console.error(error);
  });
}
