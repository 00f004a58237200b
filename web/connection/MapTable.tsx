import type { PageMap } from '#core/contract/pageMap.ts';
import type { MapCheck } from '#core/contract/pageMapCalls.ts';
import styles from './connection.module.css';
import { MAP_ROWS, problemWords, readRow, type MapRow } from './mapRows.ts';

interface Props {
  readonly map: PageMap;
  /** Live map, to mark differences. */
  readonly live: PageMap | null;
  readonly check: MapCheck | null;
  readonly change: (pointer: string, text: string) => void;
}

/** The page map, editable part by part, beside the newest check's matches on each page. */
export function MapTable({ map, live, check, change }: Props) {
  const groups = [...new Set(MAP_ROWS.map(({ group }) => group))];
  const pages = check?.pages ?? [];
  return (
    <div className={styles.scroll}>
      <table className={styles.map}>
        <thead>
          <tr>
            <th scope="col">Part</th>
            <th scope="col">Selector or pattern</th>
            {pages.map(({ path, problem }) => (
              <th scope="col" key={path} className={styles.pageHead} title={path}>
                <span>{path.replace(/^\/.+\//, '…/')}</span>
                {problem !== null && <em>{problemWords(problem)}</em>}
              </th>
            ))}
          </tr>
        </thead>
        {groups.map((group) => (
          <tbody key={group}>
            <tr>
              <th scope="rowgroup" colSpan={2 + pages.length} className={styles.group}>
                {group}
              </th>
            </tr>
            {MAP_ROWS.filter((row) => row.group === group).map((row) => (
              <Row key={row.name} row={row} map={map} live={live} check={check} change={change} />
            ))}
          </tbody>
        ))}
      </table>
    </div>
  );
}

function Row({ row, map, live, check, change }: Props & { readonly row: MapRow }) {
  const { pointer, name, group, isNeeded, part, example } = row;
  const current = pointer === null ? '' : (readRow(map, pointer) ?? '');
  const isChanged = live !== null && pointer !== null && current !== (readRow(live, pointer) ?? '');
  return (
    <tr>
      <th scope="row">{name}</th>
      <td className={isChanged ? styles.changed : undefined}>
        {pointer === null && <small>when the price is hidden: map them with the price</small>}
        {pointer !== null && (
          <input
            key={current}
            defaultValue={current}
            aria-label={`${group}: ${name}`}
            title={
              example &&
              `Such as ${example}: * is one part of an address, ** any number of parts; several with commas. An expression begins with ^.`
            }
            placeholder={isNeeded ? `needed${example ? `: ${example}` : ''}` : (example ?? 'not on this shop')}
            spellCheck={false}
            autoCapitalize="off"
            onBlur={({ target }) => {
              if (target.value.trim() !== current) change(pointer, target.value.trim());
            }}
            onKeyDown={({ key, currentTarget }) => {
              if (key === 'Enter') currentTarget.blur();
              if (key === 'Escape') currentTarget.value = current;
            }}
          />
        )}
      </td>
      {check?.pages.map(({ path, lines }) => {
        const line = lines.find((candidate) => candidate.part === part);
        const isBroken = part !== null && check.broken.some((other) => other.path === path && other.part === part);
        return (
          <td
            key={path}
            className={isBroken || (pointer === null && line?.found) ? styles.broken : styles.found}
            title={
              line?.amounts?.map(({ text, where }) => `${text}  (${where})`).join('\n') || (line?.sample ?? undefined)
            }
          >
            {(current === '' && pointer !== null) || !line ? '' : line.found > 0 ? line.found : isBroken ? 'gone' : '–'}
          </td>
        );
      })}
    </tr>
  );
}
