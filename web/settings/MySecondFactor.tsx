import { Button, Skeleton, TextField } from '@mui/material';
import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useForm } from 'react-hook-form';
import { CopyLine } from '../shared/CopyLine.tsx';
import { ErrorNote } from '../shared/ErrorNote.tsx';
import { saveAs } from '../shared/save.ts';
import styles from './settings.module.css';
import { useSecondFactor, useSecondFactorActs } from './useSecondFactor.ts';
import { FormText } from '../shared/FormText.tsx';

/** One's own second factor: codes from a telephone. */
export function MySecondFactor() {
  const factor = useSecondFactor();
  const { begin, turnOn, renewCodes, turnOff } = useSecondFactorActs();
  /** Purpose of asking for the password. */
  const [wish, setWish] = useState<'on' | 'codes' | 'off' | null>(null);
  const codes = turnOn.data ?? renewCodes.data;
  const done = () => {
    setWish(null);
    for (const act of [begin, turnOn, renewCodes, turnOff]) act.reset();
  };
  return (
    <section aria-labelledby="factor-heading">
      <h2 id="factor-heading">Second factor</h2>
      {factor.error && <ErrorNote error={factor.error} />}
      {!factor.data ? (
        !factor.error && <Skeleton variant="rounded" height={60} />
      ) : codes ? (
        <RecoveryCodes codes={codes} done={done} />
      ) : begin.data ? (
        <Scan
          address={begin.data.address}
          secret={begin.data.secret}
          error={turnOn.error}
          isPending={turnOn.isPending}
          turnOn={(code) => {
            turnOn.mutate(code);
          }}
          cancel={done}
        />
      ) : wish !== null ? (
        <AskPassword
          submit={{ on: 'Go on', codes: 'Make new codes', off: 'Turn it off' }[wish]}
          error={begin.error ?? renewCodes.error ?? turnOff.error}
          isPending={begin.isPending || renewCodes.isPending || turnOff.isPending}
          asksCode={wish === 'off'}
          give={(password, code) => {
            if (wish === 'on') begin.mutate(password);
            else if (wish === 'codes') renewCodes.mutate(password);
            else turnOff.mutate({ password, code }, { onSuccess: done });
          }}
          cancel={done}
        />
      ) : factor.data.isOn ? (
        <>
          <p>
            On. Signing in asks for a code of your telephone. {factor.data.recoveryCodesLeft} recovery codes are left.
          </p>
          <div className={styles.row}>
            <Button
              variant="outlined"
              onClick={() => {
                setWish('codes');
              }}
            >
              Make new recovery codes
            </Button>
            <Button
              onClick={() => {
                setWish('off');
              }}
            >
              Turn it off
            </Button>
          </div>
        </>
      ) : (
        <>
          <p>Off. With it, whoever knows your password cannot come in without your telephone.</p>
          <Button
            variant="outlined"
            onClick={() => {
              setWish('on');
            }}
          >
            Turn it on
          </Button>
        </>
      )}
    </section>
  );
}

interface AskPasswordProps {
  readonly submit: string;
  readonly error: Error | null;
  readonly isPending: boolean;
  /** Whether a code of the telephone's is needed too. */
  readonly asksCode: boolean;
  readonly give: (password: string, code: string) => void;
  readonly cancel: () => void;
}

function AskPassword({ submit, error, isPending, asksCode, give, cancel }: AskPasswordProps) {
  const { handleSubmit, control } = useForm({ defaultValues: { password: '', code: '' } });
  const submitted = handleSubmit(({ password, code }) => {
    give(password, code);
  });
  return (
    <form
      className={`${styles.form} ${styles.narrow}`}
      aria-label="Second factor"
      noValidate
      onSubmit={(event) => void submitted(event)}
    >
      <FormText
        name="password"
        label="Your password"
        type="password"
        autoFocus
        autoComplete="current-password"
        control={control}
        rules={{ required: 'Type your password' }}
      />
      {asksCode && (
        <FormText
          name="code"
          label="Code from your telephone, or a recovery code"
          autoComplete="one-time-code"
          control={control}
          rules={{ required: 'Type the code' }}
        />
      )}
      {error && <ErrorNote error={error} />}
      <div className={styles.row}>
        <Button type="submit" variant="contained" loading={isPending}>
          {submit}
        </Button>
        <Button onClick={cancel}>Cancel</Button>
      </div>
    </form>
  );
}

interface ScanProps {
  readonly address: string;
  readonly secret: string;
  readonly error: Error | null;
  readonly isPending: boolean;
  readonly turnOn: (code: string) => void;
  readonly cancel: () => void;
}

/** Shows the secret for a telephone, and takes a code to confirm it. */
function Scan({ address, secret, error, isPending, turnOn, cancel }: ScanProps) {
  const [code, setCode] = useState('');
  const picture = useQuery({
    queryKey: ['qr', address],
    queryFn: async () => (await import('qrcode')).toDataURL(address, { margin: 2, width: 200 }),
    gcTime: 0,
  });
  return (
    <form
      className={`${styles.form} ${styles.narrow}`}
      aria-label="Turn on the second factor"
      onSubmit={(event) => {
        event.preventDefault();
        turnOn(code);
      }}
    >
      <p>
        Read this with the application on your telephone that makes codes (TOTP), or type the key into it. Then write
        the six digits that it shows.
      </p>
      {picture.data && <img src={picture.data} width={200} height={200} alt="The key, as a QR code" />}
      <CopyLine text={secret} label="the key" />
      <TextField
        label="Six digits"
        autoComplete="one-time-code"
        value={code}
        slotProps={{ htmlInput: { inputMode: 'numeric' } }}
        onChange={({ target }) => {
          setCode(target.value);
        }}
      />
      {error && <ErrorNote error={error} />}
      <div className={styles.row}>
        <Button type="submit" variant="contained" disabled={code.trim() === ''} loading={isPending}>
          Turn it on
        </Button>
        <Button onClick={cancel}>Cancel</Button>
      </div>
    </form>
  );
}

function RecoveryCodes({ codes, done }: { readonly codes: readonly string[]; readonly done: () => void }) {
  const text = codes.join('\n');
  return (
    <div role="status">
      <p>
        Keep these recovery codes where your telephone is not. Each lets you in once without it. They are not shown
        again.
      </p>
      <CopyLine text={text} label="the recovery codes" />
      <div className={styles.row}>
        <Button
          variant="outlined"
          onClick={() => {
            saveAs('understudy-recovery-codes.txt', 'text/plain', `${text}\n`);
          }}
        >
          Download
        </Button>
        <Button variant="contained" onClick={done}>
          I have kept them
        </Button>
      </div>
    </div>
  );
}
