import type { SharedDecision } from '#core/engine/decision.ts';
import { write } from './marks.ts';

type Limits = SharedDecision['limits'];

/** Attributes of quantity fields before we changed them. */
const before = new WeakMap<Element, Readonly<Record<string, string | null>>>();

/** Holds the box or menu of how many to least, most and step; null gives it back as the shop made it. */
export function limit(box: Element, limits: Limits | null): void {
  if (box instanceof HTMLSelectElement) {
    for (const option of box.options) option.disabled = limits !== null && !fits(Number(option.value), limits);
    const first = [...box.options].find(({ disabled }) => !disabled);
    if (box.selectedOptions[0]?.disabled && first) choose(box, first.value);
    return;
  }
  if (!(box instanceof HTMLInputElement)) return;
  const isOpen = limits === null || (limits.min === 1 && limits.max === null && limits.step === 1);
  const original = before.get(box);
  if (isOpen) {
    if (original) for (const [name, value] of Object.entries(original)) write(box, name, value);
    before.delete(box);
    return;
  }
  if (!original)
    before.set(box, Object.fromEntries(['min', 'max', 'step'].map((name) => [name, box.getAttribute(name)])));
  const originalMax = Number(before.get(box)?.max ?? Infinity) || Infinity;
  const most = Math.min(limits.max ?? Infinity, originalMax);
  write(box, 'min', String(limits.min));
  write(box, 'max', most === Infinity ? null : String(most));
  write(box, 'step', String(limits.step));
  // A value being typed is left to the form's validation.
  if (box.value !== '' && !box.matches(':focus') && !fits(Number(box.value), limits)) choose(box, String(limits.min));
}

const fits = (units: number, { min, max, step }: Limits) =>
  units >= min && units <= (max ?? Infinity) && (units - min) % step === 0;

function choose(box: HTMLInputElement | HTMLSelectElement, value: string): void {
  box.value = value;
  // So that the page's own sums follow.
  for (const event of ['input', 'change']) box.dispatchEvent(new Event(event, { bubbles: true }));
}
