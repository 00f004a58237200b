import { useState } from 'preact/hooks';
import { foundOn, PARTS, stillNeeded, type Part, hereIn } from './parts.ts';
import { PageRead, PagesToRead } from './pages.tsx';
import { ProofStrip } from './proof.tsx';
import { LISTING_PAGES, VISIT_PAGES, type Draft, type PageKind } from './reading/reading.ts';
import type { View } from './view.ts';

export interface Acts {
  readonly open: (part: Part | null) => void;
  readonly pick: () => void;
  readonly choose: (selector: string | undefined) => void;
  readonly propose: () => void;
  readonly prove: () => void;
  readonly closeProof: () => void;
  readonly undo: () => void;
  readonly swap: () => void;
  readonly checkThisPage: () => void;
  readonly done: () => void;
}

interface Props {
  readonly view: View;
  readonly acts: Acts;
}

const GROUPS = [...new Set(PARTS.map(({ group }) => group))];

/** The parts of a page of this kind come first. */
function groupsFor(kinds: readonly PageKind[]): readonly Part['group'][] {
  const first: Part['group'] | undefined = kinds.some((kind) => VISIT_PAGES.has(kind))
    ? 'Cart and checkout'
    : kinds.some((kind) => LISTING_PAGES.has(kind))
      ? 'A listing'
      : undefined;
  return first === undefined ? GROUPS : [first, ...GROUPS.filter((group) => group !== first)];
}

/** The panel beside the page, and the strip along its foot while something is proved. */
export function Panel({ view, acts }: Props) {
  const { isPicking, side, proving } = view;
  return (
    <>
      <section class={`panel ${side}${isPicking ? ' low' : ''}`} aria-label="Show me the control">
        <header>
          <h1>Show me the control</h1>
          <button type="button" id="swap" onClick={acts.swap}>
            {side === 'right' ? '← Move' : 'Move →'}
          </button>
          {!isPicking && <p>This is the shop without Understudy.</p>}
        </header>
        <Task view={view} />
        {/* While something is to be pressed, the panel takes no more room than saying so needs. */}
        {isPicking ? (
          <div class="acts stop">
            <button type="button" id="pick" onClick={acts.pick}>
              Stop picking
            </button>
          </div>
        ) : (
          <>
            <div class="scroll">
              {groupsFor(view.read?.kinds ?? []).map((group) => (
                <Group key={group} group={group} view={view} acts={acts} />
              ))}
            </div>
            <Foot view={view} acts={acts} />
          </>
        )}
      </section>
      {proving && <ProofStrip proving={proving} side={side} close={acts.closeProof} />}
    </>
  );
}

function Task({ view }: { readonly view: View }) {
  const { map, open, isPicking } = view;
  const unopened =
    map.control === undefined
      ? 'Read the page first, then check what was found.'
      : 'Check what was found. Press a line to see or change it.';
  const opened = (part: Part) =>
    isPicking ? `${part.hint}.` : `${part.title}: choose how to name it, or press “Pick again”.`;
  return (
    <p class="task" role="status">
      {open ? opened(open) : unopened}
      {!open && (
        <>
          <PageRead view={view} />
          <PagesToRead view={view} />
        </>
      )}
      {isPicking && <small>The page is paused. Arrow up selects more, Escape stops.</small>}
    </p>
  );
}

function Group({ group, view, acts }: Props & { readonly group: string }) {
  return (
    <>
      <h2>{group}</h2>
      <ul>
        {PARTS.filter((part) => part.group === group).map((part) => (
          <Line key={part.key} part={part} view={view} acts={acts} />
        ))}
      </ul>
    </>
  );
}

function Line({ part, view, acts }: Props & { readonly part: Part }) {
  const selector = part.read(view.map);
  const here = foundOn(document, location.pathname, view.map, part).length;
  const isOpen = view.open?.key === part.key;
  const press = () => {
    acts.open(isOpen ? null : part);
  };
  return (
    <li class={isOpen ? 'open' : ''}>
      <button type="button" class="part" id={`part-${part.key}`} aria-expanded={isOpen} onClick={press}>
        <span>{part.title}</span>
        <span class={`count${here === 0 ? ' zero' : ''}`}>{selector === undefined ? '' : `${here} here`}</span>
        {selector === undefined ? <span class="none">not set</span> : <code>{selector}</code>}
      </button>
      {isOpen && <Ways part={part} view={view} acts={acts} />}
    </li>
  );
}

function Ways({ part, view: { ways, map, others, why }, acts }: Props & { readonly part: Part }) {
  const chosen = part.read(map);
  const known = ways.some(({ selector }) => selector === chosen);
  const all = known || chosen === undefined ? ways : [{ selector: chosen, found: 0 }, ...ways];
  return (
    <div class="ways">
      <Reasons reasons={chosen === undefined ? [] : (why[part.key as keyof typeof why] ?? [])} />
      {all.map(({ selector }) => (
        <label key={selector}>
          <input
            type="radio"
            name="way"
            id={`way-${selector}`}
            checked={selector === chosen}
            onChange={() => {
              acts.choose(selector);
            }}
          />
          <code>{selector}</code>
          <small>{counts(part, map, selector, others)}</small>
        </label>
      ))}
      <CustomTexts part={part} chosen={chosen} choose={acts.choose} />
      <div class="acts">
        <button type="button" id="pick" class="main" onClick={acts.pick}>
          {chosen === undefined ? 'Pick' : 'Pick again'}
        </button>
        {chosen !== undefined && (
          <>
            <button type="button" id="prove" onClick={acts.prove}>
              Show where
            </button>
            <button
              type="button"
              id="forget"
              onClick={() => {
                acts.choose(undefined);
              }}
            >
              Not on this shop
            </button>
          </>
        )}
      </div>
    </div>
  );
}

function Reasons({ reasons }: { readonly reasons: readonly string[] }) {
  return reasons.length === 0 ? null : (
    <p class="why">{`Chosen because ${new Intl.ListFormat('en').format(reasons)}.`}</p>
  );
}

/** Keeps the text being typed while the panel is redrawn, until it is chosen. */
function CustomTexts({
  part,
  chosen,
  choose,
}: {
  readonly part: Part;
  readonly chosen: string | undefined;
  readonly choose: Acts['choose'];
}) {
  const [written, write] = useState<string | null>(null);
  return (
    <input
      type="text"
      id="own-words"
      aria-label={`${part.title}: selector`}
      placeholder="or write a selector"
      value={written ?? chosen ?? ''}
      onInput={({ currentTarget }) => {
        write(currentTarget.value);
      }}
      onChange={({ currentTarget }) => {
        write(null);
        choose(currentTarget.value.trim() || undefined);
      }}
    />
  );
}

function counts(part: Part, map: Draft, selector: string, others: View['others']): string {
  const here = foundOn(document, location.pathname, map, part, selector).length;
  const there = others.map(({ path, page }) =>
    page === null ? `${path} not seen yet` : `${foundOn(page, path, map, part, selector).length} on ${path}`,
  );
  return [`${here} here`, ...there].join(' · ');
}

function Foot({ view, acts }: Props) {
  const { map, kept, canUndo } = view;
  const needed = stillNeeded(map);
  const isChecked = map.pages?.includes(hereIn(map)) ?? false;
  const labels = {
    saving: 'Saving …',
    kept: 'Saved in the draft. Publish it in Connection.',
    started: 'Nothing changed yet.',
    incomplete: `Still needed: ${needed.join(', ')}. What you picked is kept for the next page.`,
    failed: kept.why ?? 'Not saved.',
  }[kept.state];
  return (
    <footer>
      <p class={kept.state === 'failed' ? 'wrong' : ''} role="status">
        {labels}
      </p>
      <div class="acts">
        <button type="button" id="propose" class={map.control === undefined ? 'main' : ''} onClick={acts.propose}>
          Read this page
        </button>
        <button type="button" id="undo" disabled={!canUndo} onClick={acts.undo}>
          Undo
        </button>
        {!isChecked && (
          <button type="button" id="check-page" onClick={acts.checkThisPage}>
            Check this page nightly
          </button>
        )}
        <button type="button" id="done" class={kept.state === 'kept' ? 'main' : ''} onClick={acts.done}>
          Back to Connection
        </button>
      </div>
    </footer>
  );
}
