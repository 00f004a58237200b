type Child = Node | string | null | false;
type Props = Readonly<Record<string, string | boolean | ((event: Event) => void) | undefined>>;

/** An element with what it has and holds; functions listen. */
export function make<K extends keyof HTMLElementTagNameMap>(
  tag: K,
  props: Props = {},
  ...children: readonly Child[]
): HTMLElementTagNameMap[K] {
  const element = document.createElement(tag);
  for (const [name, value] of Object.entries(props)) {
    if (typeof value === 'function') element.addEventListener(name, value);
    else if (value === true) element.setAttribute(name, '');
    else if (typeof value === 'string') element.setAttribute(name, value);
  }
  element.append(...children.filter((child) => child !== null && child !== false));
  return element;
}
