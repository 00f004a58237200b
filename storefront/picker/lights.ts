const COLOUR = '#0e6f7c';

/** Outlines one thing at a time. Styles are set by script, which a strict content security policy allows. */
export class Outline {
  private readonly box = document.createElement('div');

  constructor(root: ShadowRoot) {
    this.box.className = 'outline';
    this.box.hidden = true;
    root.append(this.box);
  }

  around(element: Element | null): void {
    this.box.hidden = element === null;
    if (!element) return;
    const { left, top, width, height } = element.getBoundingClientRect();
    Object.assign(this.box.style, {
      left: `${left - 3}px`,
      top: `${top - 3}px`,
      width: `${width + 6}px`,
      height: `${height + 6}px`,
    });
  }
}

/** Makes things blink where they stand, in this page or a framed one; steady for those who want no motion. */
export function blink(elements: readonly Element[]): void {
  const isStill = matchMedia('(prefers-reduced-motion: reduce)').matches;
  const on = { outline: `3px solid ${COLOUR}`, outlineOffset: '2px', boxShadow: `0 0 0 8px ${COLOUR}44` };
  const off = isStill
    ? on
    : { outline: `3px solid ${COLOUR}00`, outlineOffset: '2px', boxShadow: `0 0 0 8px ${COLOUR}00` };
  for (const element of elements)
    element.animate([on, off, on], { duration: isStill ? 4000 : 800, iterations: isStill ? 1 : 5 });
  const [first] = elements;
  const { top = 0, bottom = 0 } = first?.getBoundingClientRect() ?? {};
  const height = first?.ownerDocument.defaultView?.innerHeight ?? 0;
  if (first && (top < 0 || bottom > height)) first.scrollIntoView({ block: 'center' });
}
