import { allOf, hostOf } from './deep.ts';

export interface Proposal {
  readonly selector: string;
  /** Number of matches in its tree. */
  readonly found: number;
}

const MOST = 5;
/** Attributes that identify an element regardless of its tag. */
const NAMED = ['part', 'slot', 'itemprop'];
/** Attributes in which authors name things. */
const SPEAKING = [
  'name',
  'type',
  'role',
  'part',
  'slot',
  'itemprop',
  'rel',
  'for',
  'formaction',
  'action',
  'method',
  'aria-label',
];

/** Cost of accessible names: they often contain the product's name. */
const LABEL_COST = 6;

/** Made by a machine, and another at the next build: letters and digits mixed, or long runs without a vowel. */
export function isMadeUp(name: string): boolean {
  const core = name.replace(/^[a-z]{1,3}[-_]+/i, '');
  return (
    /^(css|sc|jsx|svelte|emotion|tw|_|ng|data-v)-?[a-z0-9]{4,}$/i.test(name) ||
    /(^|[-_])(?=[a-z0-9]*\d)(?=[a-z0-9]*[a-z])[a-z0-9]{5,}$/i.test(core) ||
    /\d{3,}/.test(name) ||
    /[bcdfghjklmnpqrstvwxz]{6,}/i.test(name)
  );
}

/** A way to name an element, and how likely it is to break when the theme changes. */
interface Name {
  readonly text: string;
  readonly cost: number;
}

function namesOf(element: Element): Name[] {
  const tag = element.localName;
  const names: Name[] = [];
  // Not `element.id`: in a form with a field of that name it is the field.
  const id = element.getAttribute('id');
  if (id && !isMadeUp(id)) names.push({ text: `#${CSS.escape(id)}`, cost: 0 });
  for (const { name, value } of element.attributes) {
    if (/^data-(understudy|v-|react|reactid|testid$)/.test(name)) continue;
    const isData = name.startsWith('data-');
    // A link to one of the shop's few main pages says so itself.
    if (name === 'href' && /^\/[^\s/?#\d"\\]{3,24}\/?$/.test(value))
      names.push({ text: `${tag}[href="${value}"]`, cost: 1.4 });
    // A link to one of many alike says where they are.
    const folder = name === 'href' ? /^(\/[^?#]*\/)[^/?#]+\/?(?:[?#].*)?$/.exec(value)?.[1] : undefined;
    if (folder !== undefined && folder.length <= 40 && !/["\\]/.test(folder))
      names.push({ text: `${tag}[href^="${folder}"]`, cost: 0.9 });
    if (!isData && !SPEAKING.includes(name)) continue;
    // Attribute values may be about one product; the attribute's presence applies to all.
    if (isData) names.push({ text: `[${name}]`, cost: 1 });
    const isShort = value.length > 0 && value.length <= 30 && !/\d/.test(value) && !isMadeUp(value);
    if (isShort)
      names.push({
        text: `${isData || NAMED.includes(name) ? '' : tag}[${name}="${value.replace(/["\\]/g, '\\$&')}"]`,
        cost: name === 'aria-label' ? LABEL_COST : isData ? 1.2 : 1.5,
      });
  }
  const classes = [...element.classList].filter(
    (name) =>
      !isMadeUp(name) &&
      !/^(is|has|js|active|selected|open|hover|focus|disabled|first|last|odd|even|loading|loaded|lazy)(-|$)/.test(
        name,
      ) &&
      !/[:[\]/]/.test(name),
  );
  for (const name of classes)
    names.push({ text: `.${CSS.escape(name)}`, cost: 2 + Math.max(0, 6 - name.length) * 0.1 });
  if (!element.hasAttribute('class')) names.push({ text: `${tag}:not([class])`, cost: 6 });
  if (tag.includes('-')) names.push({ text: tag, cost: 1 });
  if (/^(h1|main|form|button|select|article|dialog)$/.test(tag)) names.push({ text: tag, cost: 3 });
  else names.push({ text: tag, cost: 5 });
  return names.sort((a, b) => a.cost - b.cost);
}

/** A position among siblings, which is the least stable. */
function positionOf(element: Element): Name {
  const same = [...(element.parentNode?.children ?? [])].filter(({ localName }) => localName === element.localName);
  return { text: `${element.localName}:nth-of-type(${same.indexOf(element) + 1})`, cost: 20 };
}

/** Names an element by its ancestors, up to a named one, and by its siblings. */
function chainsTo(element: Element, tree: Document | Element): Name[] {
  const chains: Name[] = [];
  const [own] = namesOf(element);
  const before = element.previousElementSibling;
  if (own && before)
    for (const { text, cost } of namesOf(before).slice(0, 2))
      chains.push({ text: `${text} + ${own.text}`, cost: 9 + cost + own.cost });
  let chain = own?.text ?? element.localName;
  for (let around = element.parentElement, far = 1; around && far <= 4; around = around.parentElement, far += 1) {
    for (const { text, cost } of namesOf(around).slice(0, 2))
      chains.push({ text: `${text} > ${chain}`, cost: 8 + cost + far * 2 });
    if (around === tree) break;
    chain = `${around.localName} > ${chain}`;
  }
  return chains;
}

/**
 * Selectors for elements, the one that is likeliest to survive first: ids, data attributes, roles in forms and speaking
 * classes before positions; names that a machine made are left out. Each finds all of `wanted` inside `tree`; those that
 * find least else come first.
 */
export function proposals(wanted: readonly Element[], tree: Document | Element): Proposal[] {
  const [first] = wanted;
  if (!first) return [];
  const shared = namesOf(first).filter(({ text }) => wanted.every((element) => element.matches(text)));
  const candidates: Name[] = [...shared];
  for (const a of shared)
    for (const b of shared)
      if (a !== b && /^[.[]/.test(b.text) && !/^[.[#]/.test(a.text))
        candidates.push({ text: a.text + b.text, cost: a.cost + b.cost });
  // Inside something that is named.
  for (
    let around = first.parentElement, far = 1;
    around && around !== tree && far <= 5;
    around = around.parentElement
  ) {
    for (const outer of namesOf(around).slice(0, 4))
      for (const inner of shared.slice(0, 5))
        candidates.push({ text: `${outer.text} ${inner.text}`, cost: outer.cost + inner.cost + far * 0.5 + 1 });
    far += 1;
  }
  // By its children, and by its parent.
  const inners = [...first.children].flatMap((child) =>
    namesOf(child)
      .slice(0, 3)
      .map(({ text, cost }) => ({ text: `> ${text}`, cost })),
  );
  const links = first.children.length === 0 ? [] : [...first.querySelectorAll('a[href]')].flatMap(namesOf);
  const folders = links.filter(({ text }) => text.includes('[href^=')).slice(0, 1);
  // The innermost of its kind: on another page, rows may lie in rows.
  const tag = first.localName;
  const innermost = first.querySelector(tag) === null ? `:not(:has(${tag}))` : '';
  const outers = [
    ...inners.map(({ text, cost }): Name => ({ text: `${tag}:has(${text})`, cost: 9 + cost })),
    ...folders.map(({ text, cost }): Name => ({ text: `${tag}:has(${text})${innermost}`, cost: 9 + cost })),
  ];
  candidates.push(
    ...outers.filter(({ text }) => wanted.every((element) => element.matches(text))),
    ...chainsTo(first, tree),
  );
  if (wanted.length === 1) {
    const position = positionOf(first);
    candidates.push(position);
    const parent = first.parentElement;
    if (parent && parent !== tree)
      for (const outer of namesOf(parent).slice(0, 2))
        candidates.push({ text: `${outer.text} > ${position.text}`, cost: position.cost + outer.cost });
  }
  const found = candidates
    .sort((a, b) => a.cost - b.cost || a.text.length - b.text.length)
    .slice(0, 120)
    .flatMap(({ text, cost }) => {
      const all = allOf(tree, text);
      return wanted.every((element) => all.includes(element))
        ? [{ selector: text, found: all.length, cost: cost + Math.min(30, (all.length - wanted.length) * 8) }]
        : [];
    })
    .sort((a, b) => a.cost - b.cost || a.selector.length - b.selector.length);
  const seen = new Set<string>();
  return found.filter(({ selector }) => !seen.has(selector) && seen.add(selector)).slice(0, MOST);
}

/** Names the hosts of the shadow roots around an element, outermost last. */
export function hostsAround(element: Element): string[] {
  const hosts: string[] = [];
  for (let host = hostOf(element); host; host = hostOf(host)) hosts.push(host.localName);
  return hosts;
}
