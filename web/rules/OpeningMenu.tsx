import { Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import type { Choice, Open } from './openings.ts';
import styles from './Sentence.module.css';

interface OpeningMenuProps {
  readonly label: string;
  readonly choices: readonly Choice[];
  readonly onOpen: (open: Open) => void;
}

/** Goes on with the sentence. */
export function OpeningMenu({ label, choices, onOpen }: OpeningMenuProps) {
  const [anchor, setAnchor] = useState<HTMLElement | null>(null);
  return (
    <>
      <button
        type="button"
        className={styles.and}
        aria-haspopup="menu"
        onClick={(event) => {
          setAnchor(event.currentTarget);
        }}
      >
        {label}
      </button>
      <Menu
        open={anchor !== null}
        anchorEl={anchor}
        onClose={() => {
          setAnchor(null);
        }}
      >
        {choices.map(({ label: name, opening }) => (
          <MenuItem
            key={name}
            onClick={() => {
              if (anchor) onOpen({ anchor, ...opening });
              setAnchor(null);
            }}
          >
            {name}
          </MenuItem>
        ))}
      </Menu>
    </>
  );
}
