import { forgetAlike } from './alike.ts';

/** Fitted elements with a function to fit each again; removed elements are dropped. */
const fitted = new Map<Element, () => void>();
let isSoon = false;

function again(): void {
  isSoon = false;
  forgetAlike();
  for (const [element, refit] of fitted)
    if (element.isConnected) refit();
    else fitted.delete(element);
}

function soon(): void {
  if (isSoon) return;
  isSoon = true;
  requestAnimationFrame(again);
}

/** Fits an element in, and again whenever the page is switched to other colours: by its system, or by what its root says. */
export function fitInEveryTheme(element: Element, refit: () => void): void {
  if (fitted.size === 0) listen();
  fitted.set(element, refit);
  refit();
}

let listen = (): void => {
  listen = () => undefined;
  matchMedia('(prefers-color-scheme: dark)').addEventListener('change', soon);
  const observer = new MutationObserver(soon);
  for (const root of [document.documentElement, document.body]) observer.observe(root, { attributes: true });
};
