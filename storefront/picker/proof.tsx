import { useEffect, useRef, useState } from 'preact/hooks';
import { frame } from './frames.ts';
import { blink } from './lights.ts';
import { foundOn, type Part, hereIn } from './parts.ts';
import type { Draft } from './reading/reading.ts';

/** Part being checked, with the map at that time. */
export interface Proving {
  readonly part: Part;
  readonly map: Draft;
}

/** Matches of the selection here and on the map's other pages. */
export function ProofStrip({
  proving,
  side,
  close,
}: {
  readonly proving: Proving;
  readonly side: 'left' | 'right';
  readonly close: () => void;
}) {
  const { part, map } = proving;
  const here = foundOn(document, location.pathname, map, part).length;
  const paths = (map.pages ?? []).filter((path) => path !== hereIn(map));
  const elsewhere = paths.length > 0 ? ', and on the other pages:' : '. There are no other pages to check.';
  return (
    <section class={`strip ${side}`} aria-label="Show where">
      <header>
        <span>{`${part.title}: ${here} on this page, blinking${elsewhere}`}</span>
        <button type="button" id="close-strip" onClick={close}>
          Close
        </button>
      </header>
      <ol>
        {paths.map((path) => (
          <Elsewhere key={path} path={path} proving={proving} />
        ))}
      </ol>
    </section>
  );
}

/** Another page in a small window, where what was chosen blinks each time that the page shows it anew. */
function Elsewhere({ path, proving: { part, map } }: { readonly path: string; readonly proving: Proving }) {
  const [status, setStatus] = useState('loading …');
  const pane = useRef<HTMLDivElement>(null);
  useEffect(() => {
    const blinked = new Set<Element | undefined>();
    const shown = frame(path, () => {
      const page = shown.page();
      if (!page) {
        setStatus('this shop’s pages cannot be shown in a frame');
        return;
      }
      const found = foundOn(page, path, map, part);
      setStatus(String(found.length));
      if (!blinked.has(found[0])) blink(found);
      blinked.add(found[0]);
    });
    pane.current?.append(shown.element);
    return () => {
      shown.element.remove();
    };
  }, [path, part, map]);
  return (
    <li>
      <span>{`${path}: ${status}`}</span>
      <div class="window" ref={pane} />
    </li>
  );
}
