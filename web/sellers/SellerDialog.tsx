import {
  Autocomplete,
  Button,
  Checkbox,
  Dialog,
  DialogActions,
  DialogContent,
  DialogTitle,
  FormControlLabel,
  MenuItem,
  TextField,
} from '@mui/material';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import type { Seller, SellerTerms } from '#core/contract/sellerCalls.ts';
import type { Names } from '#core/facts/wording.ts';
import { fullSentence, ruleName } from '#core/rulebook/sentence.ts';
import { Allowed } from '../session/Allowed.tsx';
import { CopyLine } from '../shared/CopyLine.tsx';
import type { Zone } from '#core/model/zone.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { Publications } from './Publications.tsx';
import { AllowanceFields, type OwnTerms } from './AllowanceFields.tsx';
import styles from './sellers.module.css';
import {
  useInviteToSeller,
  useLetSellersPersonGo,
  useMergeSeller,
  useRemoveSeller,
  useSetSeller,
} from './useSellers.ts';
import { termsWords } from './words.ts';
import { FormText } from '../shared/FormText.tsx';

interface SellerDialogProps {
  readonly seller: Seller;
  readonly others: readonly Seller[];
  /** Names of the catalog that are nobody's. */
  readonly unnamed: readonly string[];
  readonly terms: SellerTerms;
  readonly names: Names;
  readonly zone: Zone;
  readonly onClose: () => void;
}

/** One seller: names, allowance, colleagues, rules and publications. */
export function SellerDialog({ seller, others, unnamed, terms, names, zone, onClose }: SellerDialogProps) {
  const set = useSetSeller();
  const remove = useRemoveSeller();
  const merge = useMergeSeller();
  const [name, setName] = useState(seller.name);
  const [called, setCalled] = useState(seller.names);
  const hasOwn = seller.allowed !== null || seller.publishing !== null;
  const [own, setOwn] = useState<OwnTerms | null>(
    hasOwn ? { allowed: seller.allowed ?? terms.allowed, publishing: seller.publishing ?? terms.publishing } : null,
  );
  const [into, setInto] = useState('');
  const [isRemoving, setRemoving] = useState(false);
  const error = set.error ?? remove.error ?? merge.error;
  return (
    <Dialog open onClose={onClose} fullWidth maxWidth="md" aria-labelledby="seller-title">
      <DialogTitle id="seller-title">{seller.name}</DialogTitle>
      <DialogContent className={styles.dialog}>
        {error && <ErrorNote error={error} />}
        <Allowed permission="settings">
          <section className={styles.fields} aria-label="Names">
            <TextField
              label="Called here"
              value={name}
              sx={{ mt: 1 }}
              onChange={({ target }) => {
                setName(target.value);
              }}
            />
            <Autocomplete
              multiple
              freeSolo
              options={unnamed.filter((one) => !called.includes(one))}
              value={called}
              onChange={(_event, next) => {
                setCalled(next);
              }}
              renderInput={(input) => (
                <TextField
                  {...input}
                  label="Names in the catalog"
                  helperText="Whatever is sold under one of these is theirs"
                />
              )}
            />
          </section>
          <section aria-label="What they may decide">
            <FormControlLabel
              label="Terms of their own instead of the default"
              control={
                <Checkbox
                  checked={own !== null}
                  onChange={({ target }) => {
                    setOwn(target.checked ? terms : null);
                  }}
                />
              }
            />
            <p>{termsWords(own ?? terms)}</p>
            {own && <AllowanceFields terms={own} onChange={setOwn} />}
          </section>
        </Allowed>
        <People seller={seller} />
        <section aria-label="Live rules">
          <h3>Live rules</h3>
          {seller.rules.length === 0 ? (
            <p className={styles.quiet}>None. Their products are as your own rules have it.</p>
          ) : (
            <ol className={styles.rules}>
              {seller.rules.map((rule) => (
                <li key={rule.id}>
                  <b>{ruleName(rule, names)}</b>
                  <p>{fullSentence(rule, names)}</p>
                </li>
              ))}
            </ol>
          )}
        </section>
        <Publications seller={seller} names={names} zone={zone} />
        <Allowed permission="settings" quiet>
          <section className={styles.further} aria-label="Merge or remove">
            {others.length > 0 && (
              <>
                <TextField
                  select
                  size="small"
                  label="The same as"
                  value={into}
                  sx={{ width: 240 }}
                  onChange={({ target }) => {
                    setInto(target.value);
                  }}
                >
                  {others.map((other) => (
                    <MenuItem key={other.id} value={other.id}>
                      {other.name}
                    </MenuItem>
                  ))}
                </TextField>
                <Button
                  disabled={into === ''}
                  loading={merge.isPending}
                  onClick={() => {
                    merge.mutate({ id: seller.id, into }, { onSuccess: onClose });
                  }}
                >
                  Merge into it
                </Button>
              </>
            )}
            {isRemoving ? (
              <span className={styles.sure}>
                Their rules end at once, and they are signed out.{' '}
                <Button
                  color="error"
                  variant="contained"
                  loading={remove.isPending}
                  onClick={() => {
                    remove.mutate(seller.id, { onSuccess: onClose });
                  }}
                >
                  Remove {seller.name}
                </Button>
              </span>
            ) : (
              <Button
                color="error"
                onClick={() => {
                  setRemoving(true);
                }}
              >
                Remove…
              </Button>
            )}
          </section>
        </Allowed>
      </DialogContent>
      <DialogActions>
        <Button onClick={onClose}>Close</Button>
        <Allowed permission="settings" quiet>
          <Button
            variant="contained"
            disabled={name.trim() === '' || called.length === 0}
            loading={set.isPending}
            onClick={() => {
              const allowance = { allowed: own?.allowed ?? null, publishing: own?.publishing ?? null };
              set.mutate({ id: seller.id, name, names: called, ...allowance }, { onSuccess: onClose });
            }}
          >
            Save
          </Button>
        </Allowed>
      </DialogActions>
    </Dialog>
  );
}

/** People of the seller. */
function People({ seller: { id, name: sellerName, people } }: { readonly seller: Seller }) {
  const invite = useInviteToSeller();
  const letGo = useLetSellersPersonGo();
  const { handleSubmit, control, reset } = useForm({ defaultValues: { name: '', email: '' } });
  const submit = handleSubmit((given) => {
    invite.mutate(
      { id, ...given },
      {
        onSuccess: () => {
          reset();
        },
      },
    );
  });
  return (
    <section aria-label="People">
      <h3>Who decides for {sellerName}</h3>
      {people.length > 0 && (
        <ul className={styles.unnamed}>
          {people.map((one) => (
            <li key={one.id}>
              <span>
                {one.name} <small>{one.isInvited ? `${one.email}, invited, not here yet` : one.email}</small>
              </span>
              <Allowed permission="settings" quiet>
                <Button
                  size="small"
                  loading={letGo.isPending && letGo.variables === one.id}
                  aria-label={`Let ${one.name} go`}
                  onClick={() => {
                    letGo.mutate(one.id);
                  }}
                >
                  Let go
                </Button>
              </Allowed>
            </li>
          ))}
        </ul>
      )}
      {(invite.error ?? letGo.error) && <ErrorNote error={(invite.error ?? letGo.error)!} />}
      {invite.data &&
        (invite.data.link === null ? (
          <p role="status">The invitation is on its way.</p>
        ) : (
          <CopyLine text={invite.data.link} label="the invitation" />
        ))}
      <Allowed permission="settings" quiet>
        <form className={styles.invite} noValidate onSubmit={(event) => void submit(event)}>
          <FormText
            name="name"
            size="small"
            label="Name"
            sx={{ width: 220 }}
            control={control}
            rules={{ required: 'Write their name' }}
          />
          <FormText
            name="email"
            size="small"
            label="E-mail"
            type="email"
            sx={{ width: 260 }}
            control={control}
            rules={{ required: 'Write their e-mail address' }}
          />
          <Button type="submit" variant="outlined" loading={invite.isPending}>
            Invite
          </Button>
        </form>
      </Allowed>
    </section>
  );
}
