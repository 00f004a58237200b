import { ListSubheader, Menu, MenuItem } from '@mui/material';
import { useState } from 'react';
import type { Rule } from '#core/rulebook/rulebook.ts';
import type { Choice, Open } from './clauseMenu.ts';
import styles from './Sentence.module.css';

interface OpeningMenuProps {
  readonly label: string;
  readonly choices: readonly Choice[];
  readonly onOpen: (open: Open) => void;
  readonly onChange: (rule: Rule) => void;
}

/** Goes on with the sentence. */
export function OpeningMenu({ label, choices, onOpen, onChange }: OpeningMenuProps) {
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
        slotProps={{ paper: { sx: { maxHeight: 420 } } }}
      >
        {choices.flatMap((choice, index) => {
          const { label: name, group } = choice;
          const isFirst = group !== undefined && group !== choices[index - 1]?.group;
          return [
            ...(isFirst
              ? [
                  <ListSubheader key={group} disableSticky role="presentation">
                    {group}
                  </ListSubheader>,
                ]
              : []),
            <MenuItem
              key={name}
              onClick={() => {
                if (anchor && 'opening' in choice) onOpen({ anchor, ...choice.opening });
                if ('next' in choice) onChange(choice.next);
                setAnchor(null);
              }}
            >
              {name}
            </MenuItem>,
          ];
        })}
      </Menu>
    </>
  );
}
