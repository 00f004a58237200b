import { Button, TextField } from '@mui/material';
import { useState } from 'react';
import type { MessageSettings } from '#core/contract/channelCalls.ts';
import type { ShopFacts } from '#core/model/subject.ts';
import { DESIGNS, type Design } from '#core/texts/letter.ts';
import { LocalisedFields } from '../shared/LocalisedFields.tsx';
import { FileButton } from '../shared/FileButton.tsx';
import letters from '../shared/letters.module.css';
import styles from './messages.module.css';

const DESIGN_NAMES: Readonly<Record<Design, string>> = {
  specimen: 'Specimen sheet',
  packet: 'Seed packet',
  note: 'Plain note',
};
const MOST_BYTES = 100_000;
const TYPES = ['image/png', 'image/jpeg', 'image/gif'] as const;

export interface SettingsProps {
  readonly settings: MessageSettings;
  readonly shop: ShopFacts;
  readonly change: (settings: Partial<MessageSettings>) => void;
}

/** Fields for the design of all messages. */
export function LookFields({ settings: { design, colour, logo, terms }, shop, change }: SettingsProps) {
  const [fault, setFault] = useState<string | null>(null);
  const take = async (file: File) => {
    const type = TYPES.find((known) => known === file.type);
    if (!type || file.size > MOST_BYTES) {
      setFault(`“${file.name}” could not be used: choose a PNG, JPEG or GIF of at most 100 kB.`);
      return;
    }
    setFault(null);
    change({ logo: { type, data: base64(new Uint8Array(await file.arrayBuffer())) } });
  };
  return (
    <section aria-labelledby="look" className={styles.section}>
      <h2 id="look">E-mail design</h2>
      <div className={letters.filters} role="group" aria-label="Design">
        {DESIGNS.map((name) => (
          <button
            key={name}
            type="button"
            aria-pressed={name === design}
            onClick={() => {
              change({ design: name });
            }}
          >
            {DESIGN_NAMES[name]}
          </button>
        ))}
      </div>
      <div className={styles.line}>
        <label className={styles.colour}>
          Colour
          <input
            type="color"
            value={colour}
            onChange={({ target }) => {
              change({ colour: target.value });
            }}
          />
          <code>{colour}</code>
        </label>
        <FileButton accept={TYPES.join()} variant="outlined" onChoose={(file) => void take(file)}>
          {logo ? 'Another logo' : 'Choose a logo'}
        </FileButton>
        {logo && (
          <Button
            variant="outlined"
            onClick={() => {
              change({ logo: null });
            }}
          >
            Remove the logo
          </Button>
        )}
      </div>
      {fault && <p role="alert">{fault}</p>}
      <LocalisedFields
        label="Footer of every e-mail"
        text={terms ?? undefined}
        locales={shop.locales}
        multiline
        onChange={(words) => {
          change({ terms: words ?? null });
        }}
      />
    </section>
  );
}

const base64 = (bytes: Uint8Array) => btoa(Array.from(bytes, (byte) => String.fromCharCode(byte)).join(''));

/** Fields for text-message and chat services. */
export function WaysFields({ settings: { text, chat, telephones }, change }: SettingsProps) {
  return (
    <section aria-labelledby="ways" className={styles.section}>
      <h2 id="ways">Channels</h2>
      <p>E-mail goes by the server’s own SMTP settings. Leave an address empty to turn that channel off.</p>
      <TextField
        label="Address of your text message service"
        placeholder="https://"
        value={text?.url ?? ''}
        onChange={({ target }) => {
          change({ text: target.value === '' ? null : { secret: '', ...text, url: target.value } });
        }}
      />
      {text && (
        <>
          <TextField
            label="Its secret"
            type="password"
            autoComplete="off"
            value={text.secret}
            onChange={({ target }) => {
              change({ text: { ...text, secret: target.value } });
            }}
          />
          <TextField
            label="Your telephone numbers"
            placeholder="+351210000000"
            helperText="With their country, and a comma between several. Customers are texted at their imported number."
            defaultValue={telephones.join(', ')}
            onChange={({ target }) => {
              change({ telephones: target.value.split(',').flatMap((one) => one.replace(/[\s().-]/g, '') || []) });
            }}
          />
        </>
      )}
      <TextField
        label="Address of your chat’s web hook"
        placeholder="https://"
        value={chat?.url ?? ''}
        onChange={({ target }) => {
          change({ chat: target.value === '' ? null : { url: target.value } });
        }}
      />
    </section>
  );
}
