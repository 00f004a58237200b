import { Button, TextField } from '@mui/material';
import { useId, useState } from 'react';
import styles from './settings.module.css';

interface NamesTableProps {
  readonly title: string;
  /** Noun for one of them. */
  readonly what: string;
  /** Codes that the shop uses. */
  readonly codes: readonly string[];
  /** By code. */
  readonly names: Readonly<Record<string, string>>;
  /** Name of one without a name here. */
  readonly usual?: (code: string) => string;
  readonly change: (names: Record<string, string>) => void;
}

/** Table of names for codes used by files and shops. */
export function NamesTable({ title, what, codes, names, usual, change }: NamesTableProps) {
  const id = useId();
  const [added, setAdded] = useState('');
  const all = [...new Set([...codes, ...Object.keys(names)])];
  const name = (code: string, written: string) => {
    const others = Object.entries(names).filter(([other]) => other !== code);
    change(Object.fromEntries(written === '' ? others : [...others, [code, written]]));
  };
  const add = () => {
    const code = added.trim();
    if (code === '' || all.includes(code)) return;
    name(code, code);
    setAdded('');
  };
  return (
    <section aria-labelledby={id}>
      <h2 id={id}>{title}</h2>
      {all.length > 0 && (
        <table className={styles.names}>
          <tbody>
            {all.map((code) => (
              <tr key={code}>
                <th scope="row">
                  <code>{code}</code>
                </th>
                <td>
                  <TextField
                    fullWidth
                    value={names[code] ?? ''}
                    placeholder={usual?.(code) ?? code}
                    slotProps={{ htmlInput: { 'aria-label': `What the ${what} ${code} is called`, maxLength: 100 } }}
                    onChange={({ target }) => {
                      name(code, target.value);
                    }}
                  />
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <div className={styles.row}>
        <TextField
          fullWidth={false}
          sx={{ flex: 1 }}
          value={added}
          placeholder={`Code of another ${what}`}
          slotProps={{ htmlInput: { 'aria-label': `Code of another ${what}`, maxLength: 200 } }}
          onChange={({ target }) => {
            setAdded(target.value);
          }}
          onKeyDown={(event) => {
            if (event.key !== 'Enter') return;
            event.preventDefault();
            add();
          }}
        />
        <Button variant="outlined" disabled={added.trim() === '' || all.includes(added.trim())} onClick={add}>
          Add
        </Button>
      </div>
    </section>
  );
}
