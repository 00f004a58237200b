import { isAllowed } from '#core/requests/machine.ts';
import { quote as lifecycle } from '#core/requests/quote.ts';
import { quotePart } from '#core/requests/quotePart.ts';
import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import { FormProvider, useFieldArray, useForm, useWatch } from 'react-hook-form';
import type { Quote } from '#core/contract/askingCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { send } from '../api/client.ts';
import { keys } from '../api/keys.ts';
import { Allowed } from '../session/Allowed.tsx';
import { useSeller } from '../goods/whose.ts';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import styles from '../shared/letters.module.css';
import { momentWords } from '../shared/times.ts';
import { useRequestChange } from '../shared/useRequestChange.ts';
import { AddVariant } from './AddVariant.tsx';
import { EditedLines } from './EditedLines.tsx';
import { editedLine, faultOf, pricedBody, pricingForm, type PricingForm } from './pricing.ts';
import { QuoteLines } from './QuoteLines.tsx';
import { FormText } from '../shared/FormText.tsx';

interface QuotePartProps {
  readonly quote: Quote;
  readonly part: Quote['parts'][number];
  readonly shop: ShopFacts;
  /** Receives what was done, in words for a message. */
  readonly onSent: (words: string) => void;
}

/** Part of a quote priced by one seller or the shop, which may be all of it. */
export function QuotePart({ quote, part, shop, onSent }: QuotePartProps) {
  const isSeller = useSeller() !== null;
  const [isOpen, setOpen] = useState(isSeller || part.seller === null || quote.parts.length === 1);
  const name = part.seller?.name ?? shop.name;
  return (
    <section className={quote.parts.length > 1 ? styles.part : undefined} aria-label={`Priced by ${name}`}>
      {quote.parts.length > 1 && (
        <h3>
          {name} <small>{partWords(part, shop)}</small>
        </h3>
      )}
      {isOpen ? (
        <Pricing quote={quote} part={part} shop={shop} onSent={onSent} />
      ) : (
        <>
          <QuoteLines lines={linesOf(quote, part)} delivery={part.delivery} shop={shop} />
          {isAllowed(lifecycle, quote.state, 'price', 'owner') && (
            <Allowed permission="requests" quiet>
              <Button
                variant="outlined"
                onClick={() => {
                  setOpen(true);
                }}
              >
                Price it for {name}
              </Button>
            </Allowed>
          )}
        </>
      )}
    </section>
  );
}

const linesOf = ({ lines, parts }: Quote, { seller }: Quote['parts'][number]) =>
  parts.length === 1 ? lines : lines.filter((line) => line.seller === (seller?.id ?? null));

function partWords({ state, validUntil }: Quote['parts'][number], { zone }: ShopFacts): string {
  if (state === 'turnedDown') return 'declined';
  if (state === 'asked' || validUntil === null) return 'not priced yet';
  return `priced, good until ${momentWords(Date.parse(validUntil), zone)}`;
}

function Pricing({ quote, part, shop, onSent }: QuotePartProps) {
  const { id, state, email, isShared, validUntil } = quote;
  const isSent = validUntil !== null;
  const form = useForm<PricingForm>({ defaultValues: pricingForm(linesOf(quote, part), part, shop) });
  const { register, handleSubmit, control, formState } = form;
  const { append } = useFieldArray({ control, name: 'lines', rules: { validate: faultOf.lines } });
  const words = useWatch({ control, name: 'words' });
  const of = { seller: part.seller?.id ?? null };
  const price = useRequestChange(keys.quotes, async (given: PricingForm) => {
    await send('PUT /api/quotes/{id}/price', { params: { id }, body: { ...of, ...pricedBody(given, shop) } });
  });
  const turnDown = useRequestChange(keys.quotes, async () => {
    await send('POST /api/quotes/{id}/refusal', { params: { id }, body: { ...of, words } });
  });
  const submit = handleSubmit((given) => {
    price.mutate(given, {
      onSuccess: () => {
        onSent(isShared && !isSent ? 'Priced.' : `The quote is on its way to ${email}.`);
      },
    });
  });
  const error = price.error ?? turnDown.error;
  const canTurnDown =
    isAllowed(lifecycle, state, 'turnDown', 'owner') && isAllowed(quotePart, part.state, 'turnDown', 'owner');
  const { errors } = formState;
  if (!isAllowed(lifecycle, state, 'price', 'owner'))
    return <QuoteLines lines={linesOf(quote, part)} delivery={part.delivery} shop={shop} />;
  return (
    <Allowed permission="requests">
      <FormProvider {...form}>
        <form noValidate onSubmit={(event) => void submit(event)}>
          <EditedLines shop={shop} />
          {errors.lines?.root && (
            <p role="alert" className={styles.fault}>
              {errors.lines.root.message}
            </p>
          )}
          <div className={styles.pricing}>
            <AddVariant
              shop={shop}
              add={(line) => {
                const index = form.getValues('lines').findIndex(({ variant }) => variant === line.variant);
                if (index < 0) append(editedLine(line, shop), { shouldFocus: false });
                else form.setValue(`lines.${index}.isRemoved`, false);
              }}
            />
            <FormText
              name="delivery"
              label="Delivery"
              type="number"
              slotProps={{ htmlInput: { min: 0, step: 10 ** -shop.exponent } }}
              sx={{ width: 140 }}
              control={control}
              rules={{ validate: (text) => faultOf.delivery(text, shop) }}
            />
            <FormText
              name="days"
              label="Valid for days"
              type="number"
              slotProps={{ htmlInput: { min: 1 } }}
              sx={{ width: 140 }}
              control={control}
              rules={{ validate: faultOf.days }}
            />
          </div>
          <div className={styles.reply} data-screen-only>
            <TextField label="A message with it" multiline minRows={3} {...register('words')} />
            {isShared && !isSent && (
              <p className={styles.hint}>
                {part.state === 'asked'
                  ? 'Others price the rest of it; the customer is sent one quote.'
                  : 'Priced. The customer is sent one quote, when the others have priced theirs too.'}
              </p>
            )}
            {error && <ErrorNote error={error} />}
            <div className={styles.acts}>
              <Button type="submit" variant="contained" loading={price.isPending}>
                {isSent
                  ? 'Send again'
                  : !isShared
                    ? 'Send the quote'
                    : part.state === 'priced'
                      ? 'Price again'
                      : 'Price these lines'}
              </Button>
              <Button
                variant="outlined"
                disabled={words.trim() === '' || !canTurnDown}
                loading={turnDown.isPending}
                onClick={() => {
                  turnDown.mutate(undefined, {
                    onSuccess: () => {
                      onSent(`Your answer is on its way to ${email}.`);
                    },
                  });
                }}
              >
                Decline with this message
              </Button>
            </div>
          </div>
        </form>
      </FormProvider>
    </Allowed>
  );
}
