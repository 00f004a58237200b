import type { Vocabulary } from '#core/contract/shopCalls.ts';
import { Autocomplete, Button, IconButton, MenuItem, TextField } from '@mui/material';
import { roleTitle } from '../goods/useGoods.ts';
import { CustomerField } from '../shared/CustomerField.tsx';
import styles from './audiences.module.css';
import { KINDS, type AudienceRow, type Kind, type RowFaults } from './rows.ts';

interface AudienceFieldsProps {
  readonly row: AudienceRow;
  readonly faults: RowFaults;
  /** Roles that customers have. */
  readonly roles: Vocabulary['roles'];
  readonly change: (row: AudienceRow) => void;
  /** Null where it cannot be. */
  readonly remove: (() => void) | null;
  readonly up: (() => void) | null;
  readonly down: (() => void) | null;
}

/** One audience: its name and its members. */
export function AudienceFields({ row, faults, roles, change, remove, up, down }: AudienceFieldsProps) {
  const { name, kind } = row;
  const called = name.trim() || 'this audience';
  return (
    <li className={styles.row}>
      <TextField
        label="Name"
        value={name}
        error={faults.name !== undefined}
        helperText={faults.name}
        autoFocus={name === ''}
        slotProps={{ htmlInput: { maxLength: 60 } }}
        onChange={({ target }) => {
          change({ ...row, name: target.value });
        }}
      />
      <TextField
        select
        label="Who"
        value={kind}
        onChange={({ target }) => {
          change({ ...row, kind: target.value as Kind });
        }}
      >
        {Object.entries(KINDS).map(([value, { label }]) => (
          <MenuItem key={value} value={value}>
            {label}
          </MenuItem>
        ))}
      </TextField>
      <div>
        {KINDS[kind].roles !== undefined && (
          <Autocomplete
            multiple
            freeSolo
            autoSelect
            options={roles.map(({ name }) => name)}
            getOptionLabel={(code) => roleTitle(roles, code)}
            value={[...row.roles]}
            onChange={(_event, chosen) => {
              change({ ...row, roles: [...new Set(chosen.map((role) => role.trim()).filter(Boolean))] });
            }}
            renderInput={(input) => (
              <TextField
                {...input}
                label={KINDS[kind].roles}
                error={faults.roles !== undefined}
                helperText={faults.roles}
              />
            )}
          />
        )}
        {KINDS[kind].isCustomer && (
          <CustomerField
            label="Customer"
            value={row.customer}
            error={faults.customer}
            onChange={(person) => {
              const isUnnamed = name.trim() === '' && person !== null;
              change({ ...row, customer: person?.id ?? null, name: isUnnamed ? (person.name ?? person.id) : name });
            }}
          />
        )}
      </div>
      <div className={styles.acts}>
        <IconButton size="small" disabled={!up} aria-label={`Move ${called} up`} onClick={up ?? undefined}>
          ↑
        </IconButton>
        <IconButton size="small" disabled={!down} aria-label={`Move ${called} down`} onClick={down ?? undefined}>
          ↓
        </IconButton>
        <Button size="small" disabled={!remove} aria-label={`Remove ${called}`} onClick={remove ?? undefined}>
          Remove
        </Button>
      </div>
    </li>
  );
}
